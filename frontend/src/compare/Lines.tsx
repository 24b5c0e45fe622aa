import type { TimeScale } from "../ui";
import { lettersOf } from "./letters";

interface Props {
  label: string;
  scale: TimeScale;
  height: number;
  /** Of each side its points. */
  lines: { timeS: number; value: number }[][];
  /** Where a value lies, from 0 at the top to 1. */
  place: (value: number) => number;
}

const DASHES = [undefined, "6 3", "2 3", "8 3 2 3"];

/** A line for each side; dashed differently, so that colour is never the only sign. */
export function Lines({ label, scale, height, lines, place }: Props) {
  const y = (value: number) => 6 + Math.min(1, Math.max(0, place(value))) * (height - 12);
  return (
    <svg
      width={scale.width}
      height={height}
      role="img"
      aria-label={label}
      className="pointer-events-none absolute inset-0"
    >
      {lines.map((points, n) => (
        <polyline
          key={n}
          points={points
            .map(({ timeS, value }) => `${scale.x(timeS).toFixed(1)},${y(value).toFixed(1)}`)
            .join(" ")}
          fill="none"
          stroke={lettersOf(n).colour}
          strokeWidth={1.5}
          strokeDasharray={DASHES[n]}
        />
      ))}
    </svg>
  );
}
