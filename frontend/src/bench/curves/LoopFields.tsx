import type { Curve, Sound } from "../../api";
import { type CurveRef, editCurve } from "../../sound";

interface Props {
  sound: Sound;
  curveRef: CurveRef;
  curve: Curve;
}

/** Between which points the held part goes round until the hold ends. */
export function LoopFields({ sound, curveRef, curve }: Props) {
  const count = curve.points.length;
  if (count < 2) return null;
  const { loop } = curve;
  const set = (next: Curve["loop"], what: string) =>
    editCurve(sound, curveRef, what, (now) => ({ ...now, loop: next }));
  const possible = (start: number, end: number) =>
    start < end && (curve.points[end]?.time_s ?? 0) > (curve.points[start]?.time_s ?? 0);
  const first = Array.from({ length: count }, (_, n) => n).find((n) => possible(n, count - 1));
  const choose = (start: number, end: number) =>
    possible(start, end) && set({ start, end }, `loop from point ${start + 1} to ${end + 1}`);
  return (
    <div className="mt-2 flex min-h-6 flex-wrap items-center gap-1.5 text-[12px]">
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="size-4 accent-action"
          checked={loop !== null}
          disabled={first === undefined}
          onChange={() =>
            loop ? set(null, "loop removed") : first !== undefined && choose(first, count - 1)
          }
        />
        Loop while held
      </label>
      {loop && (
        <>
          <PointSelect
            label="Loop from point"
            count={count}
            value={loop.start}
            allowed={(n) => possible(n, loop.end)}
            onChange={(start) => choose(start, loop.end)}
          />
          to
          <PointSelect
            label="Loop to point"
            count={count}
            value={loop.end}
            allowed={(n) => possible(loop.start, n)}
            onChange={(end) => choose(loop.start, end)}
          />
        </>
      )}
    </div>
  );
}

interface PointSelectProps {
  label: string;
  count: number;
  value: number;
  allowed: (index: number) => boolean;
  onChange: (index: number) => void;
}

function PointSelect({ label, count, value, allowed, onChange }: PointSelectProps) {
  return (
    <select
      aria-label={label}
      className="h-6 rounded-sm border border-line-strong bg-sheet px-1"
      value={value}
      onChange={(event) => onChange(Number(event.target.value))}
    >
      {Array.from({ length: count }, (_, n) => (
        <option key={n} value={n} disabled={!allowed(n)}>
          {n + 1}
        </option>
      ))}
    </select>
  );
}
