import { useMemo } from "react";
import type { Curve, Sound } from "../../api";
import { timeScale, type TimeView } from "../../ui";
import { useRuler } from "../parts";
import { useBench } from "../../sound";

/** The whole sound with a little room: its rendered length and every point of its curves. */
export function fittedView(sound: Sound | null, lengthS: number): TimeView {
  const hold = sound?.hit.hold_s ?? 0;
  const endOf = (curve: Curve, startS: number) =>
    curve.release.length > 0
      ? Math.max(hold, startS) + (curve.release.at(-1)?.time_s ?? 0)
      : startS + (curve.points.at(-1)?.time_s ?? 0);
  const ends = (sound?.layers ?? []).flatMap((layer) =>
    [layer.level, layer.pitch].map((curve) => endOf(curve, layer.delay_s)),
  );
  if (sound) ends.push(endOf(sound.pitch, 0));
  const longest = Math.max(0.05, lengthS, ...ends);
  return { startS: 0, endS: Math.min(61, longest * 1.04) };
}

/** The view that is shown now, chosen or fitted. */
export function shownView(): TimeView {
  const { view, document, audition } = useBench.getState();
  return view ?? fittedView(document, audition?.measures.length_s ?? 0);
}

/** The ruler's scale for a width in pixels. */
export function useTimeline(width: number) {
  const view = useBench((state) => state.view);
  const document = useBench((state) => state.document);
  const gesture = useBench((state) => state.gesture);
  const lengthS = useBench((state) => state.audition?.measures.length_s ?? 0);
  const fitted = useMemo(() => fittedView(document, lengthS), [document, lengthS]);
  const held = useHeldWhile(gesture !== null, fitted);
  const shape = useRuler((state) => state.shape);
  const { startS, endS } = view ?? held;
  return useMemo(() => timeScale({ startS, endS }, width, shape), [startS, endS, width, shape]);
}

let heldView: TimeView | null = null;

/** While a hand drags, the ruler must not move under it. */
function useHeldWhile(holding: boolean, view: TimeView): TimeView {
  if (!holding || heldView === null) heldView = view;
  return heldView;
}
