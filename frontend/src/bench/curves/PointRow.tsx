import { X } from "lucide-react";
import type { Curve, Parameter } from "../../api";
import { ValueField, formatValue } from "../../ui";
import {
  beatsOf,
  CURVE_KINDS,
  curveKey,
  type CurveName,
  type CurveRef,
  type Part,
  timePatch,
  timeRefusal,
  useBench,
  withoutPoint,
  withPoint,
  withPointAt,
} from "../../sound";
import type { CurveProps } from "./curveProps";

interface Props extends CurveProps {
  part: Part;
  index: number;
  change: (what: string, to: (now: Curve) => Curve) => void;
}

function valueParameter(base: Parameter, curveName: CurveName): Parameter {
  const { unit, limits, step } = CURVE_KINDS[curveName];
  return { ...base, unit, minimum: limits[0], maximum: limits[1], step };
}

/** The pitch at 0 st of the layer whose pitch curve it is; null where there is none. */
function useBaseHz(curveRef: CurveRef): number | null {
  const layerId = curveRef.name === "pitch" ? curveRef.layerId : null;
  return useBench((state) =>
    layerId === null ? null : (state.details?.layers[layerId]?.base_hz ?? null),
  );
}

/** One point of a curve: its time, its value and its bend, typed. */
export function PointRow({ sound, curveRef, curve, declarations, part, index, change }: Props) {
  const baseHz = useBaseHz(curveRef);
  const point = curve[part][index];
  const [time, value, bend] = ["time_s", "value", "bend"].map((name) =>
    declarations.curve_point.parameters.find((one) => one.name === name),
  );
  if (!point || !time || !value || !bend) return null;
  const address = { part, index };
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
          const kept = beats === undefined ? Number(next.toPrecision(8)) : next;
          const shown =
            beats === undefined ? formatValue(kept, parameter.unit) : formatValue(beats, "beat");
          const words = `${label} ${parameter.label.toLowerCase()} ${formatValue(point[name], parameter.unit)} → ${shown}`;
          change(words, (now) =>
            name === "time_s"
              ? withPoint(
                  withPointAt(now, address, kept),
                  address,
                  timePatch(point, name, kept, beats),
                )
              : withPoint(now, address, { [name]: kept }),
          );
        };
        const nudge = (direction: number) => {
          const next = point[name] + direction * parameter.step;
          const bounded = Math.min(parameter.maximum, Math.max(parameter.minimum, next));
          if (name !== "time_s" || timeRefusal(curve, address, bounded) === null) set(bounded);
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
              context={
                curveRef.name === "pitch" && name === "value"
                  ? { tempoBpm: sound.tempo_bpm, baseHz }
                  : { tempoBpm: sound.tempo_bpm }
              }
              refuse={(next) => (name === "time_s" ? timeRefusal(curve, address, next) : null)}
              onNudge={nudge}
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
          onClick={() => change(`${label} removed`, (now) => withoutPoint(now, address))}
        >
          <X size={12} aria-hidden />
        </button>
      </td>
    </tr>
  );
}
