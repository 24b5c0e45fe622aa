import { useBench } from "../../sound";

const WIDTH = 282;
const HEIGHT = 78;
const FLOOR_DB = -72;
const BANDS = [
  { name: "below 120 Hz", dash: "", stroke: "var(--ink)" },
  { name: "120 to 500 Hz", dash: "6 3", stroke: "var(--ink-2)" },
  { name: "500 Hz to 2 kHz", dash: "2 3", stroke: "var(--action)" },
  { name: "above 2 kHz", dash: "8 3 1 3", stroke: "var(--warn)" },
];

/** Level of each band of a layer over the hit: what dies away, and what stays. */
export function BandsPicture({ layerId, name }: { layerId: string; name: string }) {
  const bands = useBench((state) => state.details?.layers[layerId]?.bands_db);
  if (!bands || bands.length === 0) return null;
  const top = Math.max(0, ...bands.flat());
  const y = (db: number) => ((top - Math.max(FLOOR_DB, db)) / (top - FLOOR_DB)) * (HEIGHT - 4) + 2;
  return (
    <figure className="mt-3">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`Level of each band of ${name} over the hit`}
        className="w-full rounded-control border border-line bg-sheet"
      >
        <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--line-strong)" />
        {bands.map((levels, n) => (
          <polyline
            key={n}
            points={levels
              .map(
                (db, k) =>
                  `${((k / Math.max(1, levels.length - 1)) * WIDTH).toFixed(1)},${y(db).toFixed(1)}`,
              )
              .join(" ")}
            fill="none"
            stroke={BANDS[n]?.stroke}
            strokeWidth={1.4}
            strokeDasharray={BANDS[n]?.dash}
          />
        ))}
      </svg>
      <figcaption className="mt-1 grid grid-cols-2 gap-x-2 text-[11px] text-ink-2">
        {BANDS.map(({ name: band, dash, stroke }, n) => (
          <span key={band} className="flex items-center gap-1.5">
            <svg width={18} height={6} aria-hidden>
              <line
                x1={0}
                x2={18}
                y1={3}
                y2={3}
                stroke={stroke}
                strokeWidth={1.6}
                strokeDasharray={dash}
              />
            </svg>
            {band}
            <span className="figure ml-auto">
              {Math.max(...(bands[n] ?? [-144])).toFixed(0)} dB
            </span>
          </span>
        ))}
      </figcaption>
    </figure>
  );
}
