import type { JudgedRound } from "../api";
import { placeOf } from "./ordered";
import { useBatch } from "./store";
import { FIGURE_NAMES, figureText } from "./words";

const WIDTH = 76;
const HEIGHT = 16;
const MOST_DOTS = 400;

const SHOWN = new Set(["length_s", "loudness_lufs", "brightness_hz", "pitch_hz", "crest_db"]);

interface Line {
  label: string;
  values: (number | null)[];
  own: number | null;
  text: string;
}

/** Where the member lies among all others, figure by figure. */
export function FamilyDots({
  number,
  judged,
}: {
  number: number;
  judged: JudgedRound | undefined;
}) {
  const rows = useBatch((state) => state.rows);
  const all = [...rows.values()].filter(({ words }) => words === "").slice(0, MOST_DOTS);
  const own = rows.get(number);
  const at = placeOf(judged, number) ?? -1;
  const value = (found: unknown) => (typeof found === "number" ? found : null);
  const lines: Line[] = FIGURE_NAMES.filter(([name]) => SHOWN.has(name)).map(([name, label]) => ({
    label,
    values: all.map((row) => value(row.figures[name])),
    own: value(own?.figures[name]),
    text: figureText(name, own?.figures[name]),
  }));
  for (const [label, values] of [
    ["To nearest", judged?.nearest_distance],
    ["To original", judged?.original_distance],
  ] as const) {
    const mine = values?.[at] ?? null;
    lines.push({
      label,
      values: values?.slice(0, MOST_DOTS) ?? [],
      own: mine,
      text: mine === null ? "–" : mine.toFixed(2),
    });
  }
  return (
    <dl className="grid gap-1 text-[12px]">
      {lines.map((line) => (
        <div key={line.label} className="flex items-center gap-2">
          <dt className="w-[74px] shrink-0">{line.label}</dt>
          <Dots line={line} />
          <dd className="figure ml-auto text-[11.5px] whitespace-nowrap">{line.text}</dd>
        </div>
      ))}
    </dl>
  );
}

function Dots({ line: { values, own } }: { line: Line }) {
  const known = values.filter((one) => one !== null);
  const low = Math.min(...known);
  const high = Math.max(...known);
  const x = (value: number) =>
    4 + (high > low ? ((value - low) / (high - low)) * (WIDTH - 8) : (WIDTH - 8) / 2);
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden className="shrink-0">
      {known.map((one, n) => (
        <circle
          key={n}
          cx={x(one)}
          cy={4 + ((n * 7) % 9)}
          r={1.8}
          className="fill-ink-3"
          opacity={0.35}
        />
      ))}
      {own !== null && known.length > 0 && (
        <circle cx={x(own)} cy={HEIGHT / 2} r={3.6} className="fill-action" />
      )}
    </svg>
  );
}
