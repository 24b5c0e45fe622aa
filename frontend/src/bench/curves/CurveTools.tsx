import type { Curve, Sound } from "../../api";
import { ValueField, formatValue } from "../../ui";
import {
  takePoints,
  useBench,
  pointsOnRuler,
  curveKey,
  type CurveRef,
  editCurve,
} from "../../sound";
import { copyCurve, useClipboard } from "./clipboard";
import {
  asKind,
  curveLength,
  flippedInTime,
  flippedInValue,
  scaledValues,
  stretchedTo,
  withTimingOf,
} from "./curveTools";
import { ShapeMenu } from "./ShapeMenu";

interface Props {
  sound: Sound;
  curveRef: CurveRef;
  curve: Curve;
}

const LENGTH = {
  name: "length",
  label: "Length",
  unit: "s" as const,
  minimum: 0.0001,
  maximum: 60,
  default: 1,
  scale: "time" as const,
  step: 0.01,
  whole: false,
  help: "",
};
const FACTOR = {
  ...LENGTH,
  name: "scale",
  label: "Scale",
  unit: "percent" as const,
  minimum: -10,
  maximum: 10,
  default: 1,
  scale: "linear" as const,
};

const SMALL =
  "min-h-6 rounded-sm border border-line-strong bg-sheet px-2 text-[12px] hover:bg-band disabled:opacity-45";

/** Shape, length, scale, flips and copies of a curve, or of its points selected. */
export function CurveTools({ sound, curveRef, curve }: Props) {
  const key = curveKey(curveRef);
  const inHand = useBench((state) => (state.points?.key === key ? state.points.addresses : null));
  const copied = useClipboard((state) => state.copied);
  const some = inHand && inHand.length > 1 ? inHand : null;
  const change = (what: string, to: (now: Curve) => Curve) =>
    editCurve(sound, curveRef, some ? `${what}, ${some.length} points` : what, to);
  const part = some?.[0]?.part ?? "points";
  const times = some
    ?.filter((one) => one.part === part)
    .map(({ index }) => curve[part][index]?.time_s ?? 0);
  const lengthS = times ? Math.max(...times) - Math.min(...times) : curveLength(curve);
  const stretch = (toS: number) =>
    change(`length ${formatValue(lengthS, "s")} → ${formatValue(toS, "s")}`, (now) =>
      stretchedTo(now, toS, some),
    );
  const scale = (factor: number) =>
    change(`values × ${formatValue(factor, "")}`, (now) =>
      scaledValues(now, factor, curveRef.name, some),
    );
  const all = pointsOnRuler(curve, sound.hit.hold_s).map(({ address }) => address);
  return (
    <div className="mt-3 grid gap-1.5" role="group" aria-label="Whole curve">
      <div className="flex items-center gap-2">
        <ShapeMenu sound={sound} curveRef={curveRef} curve={curve} />
        <span className="ml-auto text-[12px] text-ink-2">
          {some ? `${some.length} points selected` : "whole curve"}
        </span>
        <button
          type="button"
          className={SMALL}
          title="Select all points (Ctrl A on a point)"
          onClick={() => takePoints(key, some ? [] : all)}
        >
          {some ? "Deselect" : "Select all"}
        </button>
      </div>
      <div className="flex items-center justify-between gap-2">
        <label className="flex items-center gap-1" title="16 beats, 16 beats at 90, 1.2 s">
          Length
          <ValueField
            id={`${key}-length`}
            className="w-[92px]"
            label="Length of the curve"
            parameter={LENGTH}
            value={lengthS}
            context={{ tempoBpm: sound.tempo_bpm }}
            disabled={lengthS <= 0}
            onNudge={(direction) => stretch(Math.max(0.001, lengthS + direction * 0.01))}
            onValue={stretch}
          />
        </label>
        <label className="flex items-center gap-1" title="Multiply the values">
          Scale
          <ValueField
            id={`${key}-scale`}
            className="w-[64px]"
            label="Scale the values"
            parameter={FACTOR}
            value={1}
            context={{ tempoBpm: sound.tempo_bpm }}
            onNudge={(direction) => scale(1 + direction * 0.05)}
            onValue={scale}
          />
        </label>
      </div>
      <div className="flex flex-wrap gap-1">
        <button
          type="button"
          className={SMALL}
          onClick={() => change("flipped in time", (now) => flippedInTime(now, some))}
        >
          Flip time
        </button>
        <button
          type="button"
          className={SMALL}
          onClick={() => change("flipped in value", (now) => flippedInValue(now, some))}
        >
          Flip value
        </button>
        <button type="button" className={SMALL} onClick={() => copyCurve(curve, curveRef.name)}>
          Copy
        </button>
        <button
          type="button"
          className={SMALL}
          disabled={!copied}
          onClick={() =>
            copied &&
            editCurve(sound, curveRef, "pasted", () =>
              asKind(copied.curve, copied.name, curveRef.name),
            )
          }
        >
          Paste
        </button>
        <button
          type="button"
          className={SMALL}
          disabled={!copied}
          title="The copied curve's times, this curve's values"
          onClick={() =>
            copied &&
            editCurve(sound, curveRef, "timing pasted", (now) => withTimingOf(now, copied.curve))
          }
        >
          Paste times
        </button>
      </div>
    </div>
  );
}
