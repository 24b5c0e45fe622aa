import { Play } from "lucide-react";
import { type ComparedAnswer, type Side } from "../api";
import { formatValue } from "../ui";
import { AverageSpectrum } from "./AverageSpectrum";
import { BlindResults } from "./BlindResults";
import { deck } from "./deck";
import { lettersOf, type Named } from "./letters";
import { useCompare } from "./store";
import { Typical } from "./Typical";
import { bandText, stretchText } from "./words";

interface Props {
  compared: ComparedAnswer;
  sides: Side[];
  names: Named[];
}

type Difference = ComparedAnswer["pairs"][number]["differences"][number];

const MOST = 9;
const HEADING = "mt-3 mb-1 text-[12px] font-semibold text-ink-2";

/** Where a side differs from A, what is heard most first; as a whole; blind tests. */
export function DifferenceList({ compared, sides, names }: Props) {
  const chosen = useCompare((state) => state.beside);
  const place = Math.min(chosen, compared.pairs.length);
  const pair = compared.pairs[place - 1];
  if (!pair) return null;
  const { letter } = lettersOf(place);
  const listed = pair.differences.slice(0, MOST);
  return (
    <aside
      aria-label="Differences"
      className="w-[312px] shrink-0 overflow-y-auto border-l border-line-strong bg-panel p-3.5 narrow:w-full narrow:overflow-y-visible narrow:border-t narrow:border-l-0"
    >
      <h2 className="font-title text-[16px] font-semibold">Where they differ</h2>
      {compared.pairs.length > 1 && (
        <div role="group" aria-label="Side beside A" className="mt-1 flex gap-1">
          {compared.pairs.map((_, n) => (
            <button
              key={n}
              type="button"
              aria-pressed={place === n + 1}
              className={`min-h-7 rounded-sm px-2 ${place === n + 1 ? "bg-ink text-sheet" : "hover:bg-band"}`}
              onClick={() => useCompare.setState({ beside: n + 1 })}
            >
              A and {lettersOf(n + 1).letter}
            </button>
          ))}
        </div>
      )}
      {listed.length === 0 ? (
        <p className="mt-2 text-ink-2">Nothing that is plainly heard.</p>
      ) : (
        <ol aria-label={`Differences of ${letter} from A`}>
          {listed.map((one) => (
            <Entry
              key={`${one.kind} ${one.from_s} ${one.from_hz} ${one.words}`}
              one={one}
              place={place}
            />
          ))}
        </ol>
      )}
      <h3 className={HEADING}>Average spectrum</h3>
      <AverageSpectrum compared={compared} place={place} />
      <h3 className={HEADING}>As a whole</h3>
      <Whole pair={pair} gainDb={compared.sides[place]?.gain_db ?? 0} letter={letter} />
      <Typical compared={compared} sides={sides} />
      <h3 className={HEADING}>Blind tests of these sides</h3>
      <BlindResults sides={sides} names={names} />
    </aside>
  );
}

function Entry({ one, place }: { one: Difference; place: number }) {
  const where =
    one.kind === "pitch"
      ? "pitch it settles at"
      : `${stretchText(one.from_s, one.to_s)}, ${bandText(one.from_hz, one.to_hz)}`;
  const stretch = { fromS: one.from_s, toS: Math.max(one.to_s, one.from_s + 0.02) };
  const listen = (side: number) => {
    deck.hear(side);
    useCompare.setState({ chosen: one.kind === "pitch" ? null : stretch });
    deck.play(
      one.kind === "pitch"
        ? {}
        : { stretch, band: { fromHz: one.from_hz, toHz: one.to_hz }, loop: false },
    );
  };
  return (
    <li className="border-b border-line py-1.5">
      <div className="flex items-start gap-1">
        <p className="figure min-w-0 flex-1 text-[11px] text-ink-2">{where}</p>
        {[0, place].map((side) => {
          const { letter, colour } = lettersOf(side);
          return (
            <button
              key={side}
              type="button"
              aria-label={`Play ${letter}: ${one.words}`}
              title={`Play just this of ${letter}`}
              className="inline-flex min-h-6 items-center gap-0.5 rounded-sm px-1 text-[12px] hover:bg-band"
              onClick={() => listen(side)}
            >
              <Play size={10} aria-hidden />
              <b style={{ color: colour }}>{letter}</b>
            </button>
          );
        })}
      </div>
      <p>
        <b>{one.words}</b> <span className="text-[12px] text-ink-2">{one.hint}</span>
      </p>
    </li>
  );
}

interface WholeProps {
  pair: ComparedAnswer["pairs"][number];
  gainDb: number;
  letter: string;
}

function Whole({ pair, gainDb, letter }: WholeProps) {
  const rows: [string, string][] = [
    ["Spectra over time", `${pair.spectra_db.toFixed(1)} dB`],
    ["Level curve", `${pair.level_db.toFixed(1)} dB`],
    ["Pitch line", pair.pitch_cent === null ? "–" : `${pair.pitch_cent.toFixed(0)} ct`],
    ["Null, A − " + letter, pair.null_db === null ? "–" : `${pair.null_db.toFixed(1)} dB`],
    [`${letter} is played`, formatValue(gainDb, "dB")],
  ];
  return (
    <dl className="grid grid-cols-[1fr_auto] gap-y-0.5 text-[12.5px]">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt>{name}</dt>
          <dd className="figure text-right">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
