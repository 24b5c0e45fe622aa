import { Plus, X } from "lucide-react";
import type { Curve, Parameter } from "../../api";
import { ValueField, formatValue } from "../../ui";
import { withNewPoint, withoutPoint, withPoint, useBench } from "../../sound";

interface Props {
  name: string;
  curve: Curve;
  onChange: (what: string, curve: Curve) => void;
}

const NUMBER: Parameter = {
  name: "value",
  label: "Value",
  unit: "percent",
  minimum: -1,
  maximum: 1,
  default: 0,
  scale: "linear",
  step: 0.05,
  whole: false,
  help: "",
};
const COLUMNS: ["time_s" | "value" | "bend", Parameter][] = [
  ["time_s", { ...NUMBER, label: "Time", unit: "s", minimum: 0, maximum: 60, step: 0.01 }],
  ["value", NUMBER],
  ["bend", { ...NUMBER, label: "Bend", unit: "", minimum: -10, maximum: 10, step: 0.5 }],
];

/** A mover's curve, from -100 to 100 %, as a small table of its points. */
export function MoverCurve({ name, curve, onChange }: Props) {
  const tempoBpm = useBench((state) => state.document?.tempo_bpm ?? 120);
  const add = () => {
    const last = curve.points.at(-1);
    const timeS = (last?.time_s ?? 0) + 0.1;
    onChange("point added", withNewPoint(curve, timeS, last?.value ?? 0, Infinity).curve);
  };
  return (
    <div className="mt-1">
      <table className="w-full" aria-label={`Points of ${name}`}>
        <thead className="text-right text-[11px] text-ink-2">
          <tr>
            {COLUMNS.map(([key, { label }]) => (
              <th key={key} className="font-normal">
                {label}
              </th>
            ))}
            <th className="w-6">
              <span className="sr-only">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {curve.points.map((point, index) => (
            <tr key={index}>
              {COLUMNS.map(([key, parameter]) => {
                const set = (value: number) => {
                  const kept = Math.min(parameter.maximum, Math.max(parameter.minimum, value));
                  onChange(
                    `point ${index + 1} ${parameter.label.toLowerCase()} ${formatValue(kept, parameter.unit)}`,
                    withPoint(curve, { part: "points", index }, { [key]: kept }),
                  );
                };
                return (
                  <td key={key} className="text-right">
                    <ValueField
                      id={`${name}-${index}-${key}`}
                      label={`${parameter.label} of point ${index + 1}`}
                      className="inline-block w-[76px]"
                      parameter={parameter}
                      value={point[key]}
                      context={{ tempoBpm }}
                      onNudge={(direction) => set(point[key] + direction * parameter.step)}
                      onValue={set}
                    />
                  </td>
                );
              })}
              <td>
                <button
                  type="button"
                  aria-label={`Remove point ${index + 1}`}
                  disabled={curve.points.length === 1}
                  className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band disabled:opacity-30"
                  onClick={() =>
                    onChange(
                      `point ${index + 1} removed`,
                      withoutPoint(curve, { part: "points", index }),
                    )
                  }
                >
                  <X size={12} aria-hidden />
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <button
        type="button"
        className="mt-1 inline-flex min-h-6 items-center gap-1 rounded-sm px-1.5 text-[12px] text-action hover:bg-band"
        onClick={add}
      >
        <Plus size={12} aria-hidden /> point
      </button>
    </div>
  );
}
