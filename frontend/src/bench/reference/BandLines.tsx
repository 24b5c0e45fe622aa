import type { ComparisonAnswer } from "../../api";
import { formatValue, type TimeScale } from "../../ui";

const FLOOR_DB = -80;

interface Props {
  found: ComparisonAnswer;
  band: number;
  scale: TimeScale;
  top: number;
  height: number;
}

/** The level of one band over time: ours as a line, the reference's dashed, the gap between them. */
export function BandLines({ found, band, scale, top, height }: Props) {
  const levels = found.bands[band];
  if (!levels) return null;
  // Both begin at the hit, which on the ruler is where the reference was moved to.
  const beginS = Math.max(0, found.shift_s);
  const y = (db: number) => 4 + (Math.min(0, Math.max(FLOOR_DB, db)) / FLOOR_DB) * (height - 8);
  const points = (list: number[]) =>
    list.map(
      (db, n) => `${scale.x(beginS + (n + 0.5) * found.step_s).toFixed(1)},${y(db).toFixed(1)}`,
    );
  const ours = points(levels.ours_db);
  const other = points(levels.reference_db);
  return (
    <svg
      width={scale.width}
      height={height}
      role="img"
      aria-label={`Level ${levels.name}: ours, and the reference dashed`}
      className="pointer-events-none absolute left-0 border-t border-line"
      style={{ top }}
    >
      <polygon
        points={[...ours, ...other.slice().reverse()].join(" ")}
        fill="var(--warn)"
        opacity={0.22}
      />
      <polyline
        points={other.join(" ")}
        fill="none"
        stroke="var(--slate)"
        strokeWidth={1.3}
        strokeDasharray="4 2"
      />
      <polyline points={ours.join(" ")} fill="none" stroke="var(--ink)" strokeWidth={1.3} />
      {found.standing && found.standing.peaks_hz.length > 0 && (
        <text x={scale.width - 8} y={12} fontSize={10.5} textAnchor="end" fill="var(--ink-2)">
          constant while the pitch glides:{" "}
          {found.standing.peaks_hz.map((hz) => formatValue(hz, "Hz")).join(", ")}
        </text>
      )}
    </svg>
  );
}
