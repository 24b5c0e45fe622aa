import type { ComparisonAnswer } from "../../api";
import { formatValue } from "../../ui";
import { Section } from "../parts";
import { useCompared } from "./useComparison";

type Standing = NonNullable<ComparisonAnswer["standing"]>;

const WIDTH = 282;
const HEIGHT = 84;
const FLOOR_DB = -48;

/** Of a reference that glides: what of its spectrum stands still, apart from what moves with it. */
export function StandingPicture() {
  const standing = useCompared((state) => state.found?.standing);
  if (!standing) return null;
  return (
    <Section title="Reference: constant partials" aside="while its pitch glides">
      <Picture standing={standing} />
    </Section>
  );
}

function Picture({ standing }: { standing: Standing }) {
  const { hz, outline_db: levels, peaks_hz: peaks, glide_hz: glide } = standing;
  const [low, high] = [hz[0] ?? 30, hz.at(-1) ?? 18000];
  const x = (f: number) => (Math.log(f / low) / Math.log(high / low)) * WIDTH;
  const y = (db: number) => 6 + (Math.max(FLOOR_DB, db) / FLOOR_DB) * (HEIGHT - 10);
  const loudest = Math.max(...levels);
  const line = hz.map((f, n) => `${x(f).toFixed(1)},${y((levels[n] ?? 0) - loudest).toFixed(1)}`);
  const [from = low, to = low] = glide;
  return (
    <>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label="Mean outline of the reference, its standing peaks, and the way of its pitch"
        className="w-full rounded-control border border-line bg-sheet"
      >
        {[1, 2, 3, 4].map((partial) => (
          <rect
            key={partial}
            x={x(from * partial)}
            width={Math.max(1, x(to * partial) - x(from * partial))}
            y={HEIGHT - 5 * partial}
            height={4}
            fill="var(--ochre)"
            opacity={0.8}
          />
        ))}
        <polyline points={line.join(" ")} fill="none" stroke="var(--slate)" strokeWidth={1.4} />
        {peaks.map((f) => (
          <line
            key={f}
            x1={x(f)}
            x2={x(f)}
            y1={2}
            y2={HEIGHT}
            stroke="var(--teal)"
            strokeWidth={1.6}
            strokeDasharray="3 2"
          />
        ))}
      </svg>
      <p className="mt-0.5 text-[11.5px] text-ink-2">
        <span className="text-teal">
          Constant: {peaks.map((f) => formatValue(f, "Hz")).join(", ") || "nothing"}
        </span>
        {" · "}
        <span className="text-ochre">
          moving: partials 1 to 4, the first from {formatValue(from, "Hz")} to{" "}
          {formatValue(to, "Hz")}
        </span>
      </p>
    </>
  );
}
