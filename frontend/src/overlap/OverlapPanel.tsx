import { Ear } from "lucide-react";
import { useEffect, useState } from "react";
import {
  api,
  errorText,
  ownStream,
  resultOf,
  untilAnswered,
  type JudgedOverlap,
  type TryOutPart,
} from "../api";
import { editTryOut, listenTo, planOf, useLoop, useTryOut, type Heard } from "../loop";
import { Button, Choice, formatValue } from "../ui";
import { HeatMap } from "./HeatMap";
import { waysOut, type Way } from "./offers";

interface Props {
  heard: Heard;
  /** The part that is in hand; null: none. */
  inHand: string | null;
  /** Where the sound in hand can have a longer attack itself: on the Bench. */
  onAttack?: (seconds: number) => void;
  /** Begin to play, where nothing plays yet. */
  onHear: () => void;
}

/** Where the part in hand and another cover each other, and ways out. */
export function OverlapPanel(props: Props) {
  const { heard, inHand } = props;
  const { parts } = heard.document;
  const own = parts.find(({ id }) => id === inHand) ?? parts[0];
  const [otherId, setOtherId] = useState<string | null>(null);
  const [whole, setWhole] = useState(false);
  const [givesWay, setGivesWay] = useState<"own" | "other" | null>(null);
  const others = parts.filter(({ id }) => id !== own?.id);
  const other = others.find(({ id }) => id === otherId) ?? others[0];
  if (!own || !other)
    return <p className="text-ink-2">Two parts are needed to see where they cover each other.</p>;
  const way = givesWay ?? "other";
  const [first, second] = way === "own" ? [other, own] : [own, other];
  return (
    <section aria-label="Overlap" className="grid gap-2">
      <div className="grid grid-cols-2 gap-2">
        <Choice
          label={`${own.name} against`}
          value={other.id}
          options={others.map(({ id, name }) => [id, name] as const)}
          onChange={setOtherId}
        />
        <Choice
          label="Gives way"
          value={way}
          options={[
            ["own", own.name],
            ["other", other.name],
          ]}
          onChange={setGivesWay}
        />
      </div>
      <div className="flex gap-1" role="group" aria-label="How much is looked at">
        {[false, true].map((one) => (
          <button
            key={`${one}`}
            type="button"
            aria-pressed={whole === one}
            className={`min-h-7 rounded-control px-2 text-[12px] ${whole === one ? "bg-ink text-sheet" : "border border-line-strong bg-sheet"}`}
            onClick={() => setWhole(one)}
          >
            {one ? "Whole hit" : "First 50 ms"}
          </button>
        ))}
      </div>
      <Judged {...props} first={first} second={second} whole={whole} />
    </section>
  );
}

interface JudgedProps extends Props {
  first: TryOutPart;
  second: TryOutPart;
  whole: boolean;
}

const PAUSE_MS = 250;

function useJudged({ heard, first, second, whole }: JudgedProps) {
  const [found, setFound] = useState<{ judged: JudgedOverlap | null } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [ownNote, setOwnNote] = useState<number | null>(null);
  const firstId = first.id;
  const secondId = second.id;
  useEffect(() => {
    const control = new AbortController();
    const said = (error: unknown) => setProblem(errorText(error));
    const ask = async () => {
      const drafts = [...heard.drafts].map(([sound_id, document]) => ({
        sound_id,
        document: { ...document },
      }));
      const body = {
        document: { ...heard.document },
        drafts,
        first: firstId,
        second: secondId,
        whole,
        plain: false,
        stream: ownStream("overlap"),
      };
      const once = async (signal: AbortSignal) => ({
        answer: await resultOf(api.POST("/api/tryouts/overlap", { body, signal })),
        plan: await planOf(heard.document),
      });
      const judged = await untilAnswered(once, control.signal, said);
      if (!judged) return;
      setFound({ judged: judged.answer.judged });
      setOwnNote(judged.plan.sources.find(({ part }) => part === secondId)?.own_note ?? null);
      setProblem(null);
    };
    const timer = window.setTimeout(() => void ask().catch(said), PAUSE_MS);
    return () => {
      control.abort();
      window.clearTimeout(timer);
    };
  }, [heard, firstId, secondId, whole]);
  return { found, problem, ownNote };
}

function Judged(props: JudgedProps) {
  const { first, second, heard } = props;
  const { found, problem, ownNote } = useJudged(props);
  if (problem)
    return (
      <p role="alert" className="text-bad">
        {problem}
      </p>
    );
  if (!found) return <p className="appears-late text-ink-2">Listening to both…</p>;
  const { judged } = found;
  if (!judged) return <p className="text-ink-2">One of the two is silent where they meet.</p>;
  const ways = waysOut({ document: heard.document, judged, first, second, ownNote });
  return (
    <>
      <HeatMap judged={judged} first={first.name} second={second.name} />
      <Words judged={judged} first={first.name} second={second.name} />
      <h3 className="text-[12px] font-semibold text-ink-2">
        Ways out, heard before they are taken
      </h3>
      {ways.length === 0 && (
        <p className="text-[12.5px] text-ink-2">
          They do not need one: nothing here helps by 3 dB.
        </p>
      )}
      <ul className="grid">
        {ways.map((way) => (
          <WayRow key={way.key} way={way} {...props} />
        ))}
      </ul>
    </>
  );
}

function Words({
  judged,
  first,
  second,
}: {
  judged: JudgedOverlap;
  first: string;
  second: string;
}) {
  const { together } = judged;
  const top = judged.stretches.slice(0, 2);
  return (
    <div className="text-[12.5px]">
      {top.length === 0 ? (
        <p>
          {first} and {second} do not cover each other here.
        </p>
      ) : (
        top.map((one) => (
          <p key={`${one.from_hz} ${one.from_s}`}>
            <span className="text-warn" aria-hidden>
              !{" "}
            </span>
            Both fill{" "}
            <span className="figure">
              {one.from_hz.toFixed(0)}–{one.to_hz.toFixed(0)} Hz
            </span>{" "}
            from{" "}
            <span className="figure">
              {(one.from_s * 1000).toFixed(0)} to {(one.to_s * 1000).toFixed(0)} ms
            </span>
            .
          </p>
        ))
      )}
      <p>
        Lows together <span className="figure">{formatValue(together.sum_db, "dB")}</span> against
        the louder one alone.
      </p>
    </div>
  );
}

function WayRow({ way, onAttack, second, inHand, onHear }: JudgedProps & { way: Way }) {
  const listening = useTryOut((state) => state.tried?.key === way.key);
  const playing = useLoop((state) => state.playing);
  const hear = () => {
    const { document } = useTryOut.getState();
    if (!document) return;
    if (listening) return listenTo(null);
    listenTo({ key: way.key, document: way.change(document) });
    if (!playing) onHear();
  };
  const take = () => {
    listenTo(null);
    if (way.attackS !== undefined && onAttack && second.id === inHand) onAttack(way.attackS);
    else editTryOut(way.words, way.change);
  };
  return (
    <li className="flex items-center gap-2 border-t border-line py-1.5">
      <button
        type="button"
        aria-pressed={listening}
        aria-label={`Hear: ${way.words}`}
        title={listening ? "Back to how it was" : "Hear it in the loop"}
        onClick={hear}
        className={`grid size-7 shrink-0 place-items-center rounded-control ${listening ? "bg-ink text-sheet" : "hover:bg-band"}`}
      >
        <Ear size={14} aria-hidden />
      </button>
      <span className="min-w-0">
        <span className="block">{way.words}</span>
        <span className="figure text-[11px] text-ink-2">{way.figure}</span>
      </span>
      <Button className="ml-auto min-h-7 px-2.5" onClick={take} aria-label={`Take: ${way.words}`}>
        Take
      </Button>
    </li>
  );
}
