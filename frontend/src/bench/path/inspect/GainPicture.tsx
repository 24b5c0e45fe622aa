import type { GainCurve } from "../../../api";
import { formatValue } from "../../../ui";

const WIDTH = 282;
const HEIGHT = 54;
const LEAST_SPAN_DB = 12;
const DASHES: Record<string, string> = { low: "", middle: "5 3", high: "1 3" };

/** How far a processor turns the level down and up over the hit, 0 dB as a line. */
export function GainPicture({ gains }: { gains: GainCurve[] }) {
  const every = gains.flatMap(({ gain_db }) => gain_db);
  const least = Math.min(0, ...every);
  const most = Math.max(0, ...every);
  const span = Math.max(LEAST_SPAN_DB, most - least);
  const endS = Math.max(...gains.map(({ time_s }) => time_s.at(-1) ?? 0), 0.001);
  const y = (gainDb: number) => 6 + ((Math.max(0, most) - gainDb) / span) * (HEIGHT - 12);
  const path = ({ time_s, gain_db }: GainCurve) =>
    time_s
      .map(
        (t, n) =>
          `${n ? "L" : "M"}${((t / endS) * WIDTH).toFixed(1)} ${y(gain_db[n] ?? 0).toFixed(1)}`,
      )
      .join("");
  const extent = [
    least < -0.05 ? `down to ${formatValue(least, "dB")}` : "",
    most > 0.05 ? `up to ${formatValue(most, "dB")}` : "",
  ].filter(Boolean);
  return (
    <figure className="mt-2">
      <figcaption className="flex justify-between text-[11.5px] text-ink-2">
        <span>Gain</span>
        <span className="figure">{extent.join(", ") || "0 dB throughout"}</span>
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="mt-0.5 block w-full rounded-control border border-line bg-sheet"
        style={{ height: HEIGHT }}
        aria-hidden
      >
        <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--line-strong)" />
        {gains.map((curve) => (
          <path
            key={curve.band}
            d={path(curve)}
            fill="none"
            stroke="var(--action)"
            strokeWidth={1.4}
            strokeDasharray={DASHES[curve.band] ?? ""}
          />
        ))}
      </svg>
      {gains.length > 1 && (
        <p className="mt-0.5 text-[11px] text-ink-2">low ——&ensp;middle – – –&ensp;high · · ·</p>
      )}
    </figure>
  );
}
