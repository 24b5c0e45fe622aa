import { useMemo, useState } from "react";
import { TRYOUT_DEFAULTS, type TryOutPart } from "../api";
import { choose, editTryOut, useTryOut, type Heard, type RoundNow } from "../loop";
import type { TimeScale } from "../ui";
import { placeAt, withHit } from "./edits";
import { HitPicture } from "./HitPicture";
import { shapesOf, type Shape } from "./hitShapes";
import { gridBeats, useTryOutRuler } from "./rulerStore";
import { useHitGestures } from "./useHitGestures";

interface Props {
  part: TryOutPart;
  heard: Heard;
  round: RoundNow;
  scale: TimeScale;
  height: number;
  colour: string;
}

const NONE: number[] = [];

/** The hits of a part: drawn as they sound, added, moved, chosen. */
export function HitLane({ part, heard, round, scale, height, colour }: Props) {
  const hits = useTryOut((state) =>
    state.chosen.kind === "hits" && state.chosen.part === part.id ? state.chosen.hits : NONE,
  );
  const shapes = useShapes(heard, part, round);
  const gestures = useHitGestures(part, scale);
  return (
    <div
      role="group"
      tabIndex={0}
      aria-label={`Hits of ${part.name}: ${part.hits.length}${hits.length > 0 ? `, ${hits.length} chosen` : ""}. Double click or Enter adds one`}
      data-hits={part.hits.length}
      className="relative min-w-0 flex-1 touch-none overflow-hidden"
      onKeyDown={(event) => stepThrough(event, part, hits)}
      {...gestures.handlers}
    >
      <HitPicture
        part={part}
        heard={heard}
        shapes={shapes}
        hits={hits}
        scale={scale}
        height={height}
        colour={colour}
        round={round}
      />
      {gestures.words && (
        <span className="figure pointer-events-none absolute top-1 right-2 rounded-sm bg-sheet px-1 text-[11px]">
          {gestures.words}
        </span>
      )}
      {gestures.band && (
        <span
          aria-hidden
          className="pointer-events-none absolute inset-y-1 border border-action bg-action/10"
          style={{ left: gestures.band.from, width: gestures.band.to - gestures.band.from }}
        />
      )}
    </div>
  );
}

const NO_SHAPES: Shape[] = [];

/** What the lane draws; the same as before where nothing of it has come meanwhile. */
function useShapes(heard: Heard, part: TryOutPart, round: RoundNow): Shape[] {
  const found = useMemo(
    () => (round.plan ? shapesOf(heard, part, round.plan) : NO_SHAPES),
    // What has come meanwhile is looked at again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [heard, part, round.plan, round.come],
  );
  const [shown, show] = useState(found);
  const same =
    shown.length === found.length &&
    found.every((one, n) => {
      const before = shown[n];
      return (
        before?.buffer === one.buffer &&
        before.atS === one.atS &&
        before.untilS === one.untilS &&
        before.gain === one.gain &&
        before.hit === one.hit
      );
    });
  // As React wants what follows from props to be kept (react.dev, "Storing information from previous renders").
  if (!same) show(found);
  return same ? shown : found;
}

/** Without anything chosen, the arrow keys choose; Enter adds a hit after the chosen one. */
function stepThrough(event: React.KeyboardEvent, part: TryOutPart, hits: number[]): void {
  const order = part.hits.map((_, n) => n).sort((a, b) => timeOf(part, a) - timeOf(part, b));
  if (event.key === "Enter") {
    event.preventDefault();
    const last = hits.at(-1);
    const grid = gridBeats() ?? 0.25;
    editTryOut(`${part.name}: hit added`, (now) => {
      const after = last === undefined ? 0 : timeOf(part, last) + (grid * 60) / now.tempo_bpm;
      const hit = { ...TRYOUT_DEFAULTS.hit, ...placeAt(now, after, gridBeats()) };
      return withHit(now, part.id, hit).document;
    });
    choose({ kind: "hits", part: part.id, hits: [part.hits.length] });
    useTryOutRuler.setState({ leaf: "Hit" });
    return;
  }
  const step = event.key === "PageDown" ? 1 : event.key === "PageUp" ? -1 : 0;
  const begin = hits.length === 0 && event.key === "ArrowRight";
  if ((step === 0 && !begin) || order.length === 0) return;
  event.preventDefault();
  event.stopPropagation();
  const at = hits.length === 0 ? -1 : order.indexOf(hits[0] ?? 0);
  const next = order[Math.max(0, Math.min(order.length - 1, at + (begin ? 1 : step)))];
  if (next !== undefined) choose({ kind: "hits", part: part.id, hits: [next] });
}

const timeOf = (part: TryOutPart, n: number) => part.hits[n]?.at_s ?? 0;
