import type { ComparedAnswer } from "../api";
import { lettersOf } from "./letters";

const [WIDTH, HEIGHT] = [280, 110];
const RANGE_DB = 60;
const SHOWN_HZ = [100, 1000, 10_000];

/** The average spectra of A and another side, and the curve between them. */
export function AverageSpectrum({ compared, place }: { compared: ComparedAnswer; place: number }) {
  const { spectrum_hz: hz, sides } = compared;
  const low = hz[0] ?? 30;
  const high = hz.at(-1) ?? 18_000;
  const x = (at: number) => (Math.log(at / low) / Math.log(high / low)) * WIDTH;
  const shown = [0, place].map((n) => ({ n, db: sides[n]?.spectrum_db ?? [] }));
  const top = Math.max(-100, ...shown.flatMap(({ db }) => db)) + 4;
  const y = (db: number) => Math.min(1, Math.max(0, (top - db) / RANGE_DB)) * (HEIGHT - 14);
  const line = (db: readonly number[]) =>
    db.map((value, n) => `${x(hz[n] ?? low).toFixed(1)},${y(value).toFixed(1)}`).join(" ");
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`Average spectra of A and ${lettersOf(place).letter}`}
      className="w-full rounded-control border border-line bg-sheet"
    >
      {SHOWN_HZ.map((at) => (
        <g key={at}>
          <line x1={x(at)} x2={x(at)} y1={0} y2={HEIGHT - 14} stroke="var(--line)" />
          <text x={x(at)} y={HEIGHT - 3} fontSize={10} textAnchor="middle" fill="var(--ink-2)">
            {at < 1000 ? `${at} Hz` : `${at / 1000} kHz`}
          </text>
        </g>
      ))}
      {shown.map(({ n, db }) => (
        <polyline
          key={n}
          points={line(db)}
          fill="none"
          stroke={lettersOf(n).colour}
          strokeWidth={1.5}
          strokeDasharray={n === 0 ? undefined : "5 2"}
        />
      ))}
    </svg>
  );
}
