import { useDeclarations } from "../../api";
import { formatValue, type TimeScale } from "../../ui";
import { useBench, targetsOf } from "../../sound";

interface Props {
  /** Ids of the parts whose traces are shown, and what they belong to. */
  parts: string[];
  name: string;
  scale: TimeScale;
  height: number;
  /** Drawn fainter, where something else is looked at. */
  faint?: boolean;
}

const MARGIN = 14;

/** What moves in a lane's parts over time, each as it is really reached, with the range it spans. */
export function LaneTraces({ parts, name, scale, height, faint = false }: Props) {
  const moved = useBench((state) => state.details?.moved);
  const sound = useBench((state) => state.document);
  const declarations = useDeclarations().data;
  if (!moved || !sound || !declarations) return null;
  const traces = targetsOf(sound, declarations).flatMap(({ target, parameter }) => {
    const trace = moved[target];
    if (!trace || !parts.includes(target.split(".")[0] ?? "")) return [];
    const values = trace.map(([, value = 0]) => value);
    const low = Math.min(...values);
    const high = Math.max(...values);
    return high > low ? [{ target, parameter, trace, low, high }] : [];
  });
  if (traces.length === 0) return null;
  return (
    <svg
      width={scale.width}
      height={height}
      className="pointer-events-none absolute inset-0"
      role="group"
      aria-label={`What moves in ${name}`}
    >
      {traces.map(({ target, parameter, trace, low, high }, n) => {
        const y = (value: number) =>
          MARGIN + (1 - (value - low) / (high - low)) * (height - 2 * MARGIN);
        const d = trace
          .map(
            ([timeS = 0, value = 0], k) =>
              `${k === 0 ? "M" : "L"}${scale.x(timeS).toFixed(1)} ${y(value).toFixed(1)}`,
          )
          .join("");
        const words = `${parameter.label} ${formatValue(low, parameter.unit)} to ${formatValue(high, parameter.unit)}`;
        return (
          <g key={target}>
            <path
              d={d}
              fill="none"
              stroke="var(--action)"
              strokeWidth={1.2}
              strokeDasharray={DASHES[n % DASHES.length]}
              opacity={faint ? 0.35 : 0.8}
            />
            <text
              x={scale.width * 0.34}
              y={height - 6 - 12 * n}
              fontSize={10}
              fill="var(--action)"
              stroke="var(--sheet)"
              strokeWidth={3}
              paintOrder="stroke"
            >
              ◗ {words}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

const DASHES = ["", "1 3", "6 3", "8 3 1 3"];
