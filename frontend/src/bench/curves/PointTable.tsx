import { Plus, X } from "lucide-react";
import type { Curve, Declarations, Parameter, Sound } from "../../api";
import { ValueField, formatValue } from "../../ui";
import {
  beatsOf,
  timePatch,
  type Part,
  withNewPoint,
  withoutPoint,
  withPoint,
  type CurveName,
  type CurveRef,
  curveKey,
  editCurve,
} from "../../sound";

interface Props {
  sound: Sound;
  curveRef: CurveRef;
  curve: Curve;
  declarations: Declarations;
}

/** Every point of the selected curve as numbers, to be typed. */
export function PointTable(props: Props) {
  const { sound, curveRef, curve } = props;
  const change = (what: string, to: (now: Curve) => Curve) => editCurve(sound, curveRef, what, to);
  const addAtEnd = () => {
    const last = curve.points.at(-1);
    const timeS = (last?.time_s ?? 0) + 0.05;
    change(
      "point added",
      (now) =>
        withNewPoint({ ...now, release: [] }, timeS, last?.value ?? 0, sound.hit.hold_s).curve,
    );
  };
  const toggleRelease = () => {
    if (curve.release.length > 0)
      return change("release part removed", (now) => ({ ...now, release: [] }));
    const end = { time_s: 0.06, value: 0, bend: 3 };
    change("release part added", (now) => ({ ...now, release: [end] }));
  };
  return (
    <div>
      <table className="w-full" aria-label={`Points of the ${curveRef.name} curve`}>
        <thead className="text-left text-[11px] text-ink-2">
          <tr>
            <th className="w-5 font-normal">#</th>
            <th className="text-right font-normal">Time</th>
            <th className="text-right font-normal">
              {curveRef.name === "level" ? "Level" : "Pitch"}
            </th>
            <th className="text-right font-normal">Bend</th>
            <th className="w-6">
              <span className="sr-only">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {(["points", "release"] as const).flatMap((part) =>
            curve[part].map((_, index) => (
              <Row key={`${part}${index}`} {...props} part={part} index={index} change={change} />
            )),
          )}
        </tbody>
      </table>
      <div className="mt-1 flex gap-1 text-[12px]">
        {curve.release.length === 0 && (
          <button
            type="button"
            className="inline-flex min-h-6 items-center gap-1 rounded-sm px-1.5 text-action hover:bg-band"
            onClick={addAtEnd}
          >
            <Plus size={12} aria-hidden /> point
          </button>
        )}
        <button
          type="button"
          className="min-h-6 rounded-sm px-1.5 text-action hover:bg-band"
          onClick={toggleRelease}
        >
          {curve.release.length > 0 ? "Remove release (one-shot)" : "Add release (held)"}
        </button>
      </div>
    </div>
  );
}

interface RowProps extends Props {
  part: Part;
  index: number;
  change: (what: string, to: (now: Curve) => Curve) => void;
}

function valueParameter(base: Parameter, curveName: CurveName): Parameter {
  return curveName === "level"
    ? { ...base, unit: "percent", minimum: 0, maximum: 1, step: 0.01 }
    : { ...base, unit: "st", step: 1 };
}

function Row({ sound, curveRef, curve, declarations, part, index, change }: RowProps) {
  const point = curve[part][index];
  const [time, value, bend] = ["time_s", "value", "bend"].map((name) =>
    declarations.curve_point.parameters.find((one) => one.name === name),
  );
  if (!point || !time || !value || !bend) return null;
  const fields: ["time_s" | "value" | "bend", Parameter][] = [
    ["time_s", time],
    ["value", valueParameter(value, curveRef.name)],
    ["bend", bend],
  ];
  const label = part === "release" ? `release ${index + 1}` : `point ${index + 1}`;
  return (
    <tr className={part === "release" ? "bg-band" : undefined}>
      <td className="figure text-[11px] text-ink-2">
        {part === "release" ? `R${index + 1}` : index + 1}
      </td>
      {fields.map(([name, parameter]) => {
        const inBeats = beatsOf(point, name);
        const set = (next: number, beats?: number) => {
          const kept = Math.min(
            parameter.maximum,
            Math.max(parameter.minimum, beats === undefined ? Number(next.toPrecision(8)) : next),
          );
          const shown =
            beats === undefined ? formatValue(kept, parameter.unit) : formatValue(beats, "beat");
          const words = `${label} ${parameter.label.toLowerCase()} ${formatValue(point[name], parameter.unit)} → ${shown}`;
          const patch = name === "time_s" ? timePatch(point, name, kept, beats) : { [name]: kept };
          change(words, (now) => withPoint(now, { part, index }, patch));
        };
        return (
          <td key={name} className="text-right">
            <ValueField
              id={`${curveKey(curveRef)}-${part}-${index}-${name}`}
              label={`${parameter.label} of ${label}`}
              className="inline-block w-[72px]"
              parameter={parameter}
              value={point[name]}
              beats={inBeats}
              context={{ tempoBpm: sound.tempo_bpm }}
              onNudge={(direction) => set(point[name] + direction * parameter.step)}
              onValue={set}
            />
          </td>
        );
      })}
      <td>
        <button
          type="button"
          aria-label={`Remove ${label}`}
          disabled={part === "points" && curve.points.length === 1}
          className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band disabled:opacity-30"
          onClick={() => change(`${label} removed`, (now) => withoutPoint(now, { part, index }))}
        >
          <X size={12} aria-hidden />
        </button>
      </td>
    </tr>
  );
}
