import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, errorText, resultOf, sideBody, type Side } from "../api";
import { Button, DialogFrame } from "../ui";
import { deck, useDeck } from "./deck";
import { chanceText, shuffled, verdictOf } from "./verdict";
import { lettersOf, type Named } from "./letters";

interface Props {
  sides: Side[];
  names: Named[];
  onClose: () => void;
}

const TRIALS = [8, 12, 16, 24] as const;

/** Sides heard without knowing which: A/B/X with two of them, or ranked. */
export function BlindTest({ sides, names, onClose }: Props) {
  const [kind, setKind] = useState<"abx" | "ranking" | null>(sides.length > 2 ? "ranking" : null);
  const [trials, setTrials] = useState<number>(16);
  useEffect(() => {
    const { heard } = useDeck.getState();
    deck.mix(0);
    return () => {
      deck.stop();
      deck.hear(heard);
    };
  }, []);
  const close = () => {
    deck.stop();
    onClose();
  };
  return (
    <DialogFrame open onClose={close} title="Blind test" wide>
      {kind === null && (
        <div className="grid gap-3">
          <p>
            <b>A/B/X:</b> X is A or B, drawn anew for each trial. Say which, as often as you like to
            listen. Levels are matched as on the screen.
          </p>
          <div className="flex flex-wrap items-center gap-2">
            {TRIALS.map((count) => (
              <Button
                key={count}
                aria-pressed={trials === count}
                look={trials === count ? "ink" : "plain"}
                onClick={() => setTrials(count)}
              >
                {count} trials
              </Button>
            ))}
            <span className="flex-1" />
            <Button look="quiet" onClick={() => setKind("ranking")}>
              Rank them instead
            </Button>
            <Button look="action" onClick={() => setKind("abx")}>
              Begin
            </Button>
          </div>
        </div>
      )}
      {kind === "abx" && <Trials sides={sides} names={names} trials={trials} onClose={close} />}
      {kind === "ranking" && <Ranking sides={sides} names={names} onClose={close} />}
    </DialogFrame>
  );
}

/** Sends a result to the library of the sides, where they are in one. */
function useKeeping(sides: Side[], names: Named[]) {
  const queries = useQueryClient();
  const [words, setWords] = useState<string | null>(null);
  const keep = async (result: {
    answers?: { was: number; said: number }[];
    ranking?: number[];
  }) => {
    if (!names.some((one) => one.in_library)) {
      setWords("Not kept: none of the sides is in a library.");
      return null;
    }
    try {
      const body = { sides: sides.map(sideBody), answers: [], ranking: [], ...result };
      const kept = await resultOf(api.POST("/api/blind-tests", { body }));
      setWords("Kept with the library.");
      await queries.invalidateQueries({ queryKey: ["blind tests"] });
      return kept;
    } catch (error) {
      setWords(`Not kept: ${errorText(error)}`);
      return null;
    }
  };
  return { words, keep };
}

const listenTo = (side: number) => {
  deck.hear(side);
  if (!useDeck.getState().playing) deck.play();
};

const drawn = (trials: number) =>
  Array.from({ length: trials }, () => (Math.random() < 0.5 ? 0 : 1));

function Trials({ sides, names, trials, onClose }: Props & { trials: number }) {
  // What X is in each trial, drawn once.
  const [xs] = useState(() => drawn(trials));
  const [said, setSaid] = useState<number[]>([]);
  const [chance, setChance] = useState<number | null>(null);
  const keeping = useKeeping(sides, names);
  const x = xs[said.length] ?? 0;
  const over = said.length === trials;
  const right = said.filter((one, n) => one === xs[n]).length;
  const say = async (side: number) => {
    const answered = [...said, side];
    deck.stop();
    setSaid(answered);
    if (answered.length < trials) return;
    const answers = answered.map((one, n) => ({ was: xs[n] ?? 0, said: one }));
    const kept = await keeping.keep({ answers });
    setChance(kept?.chance ?? null);
  };
  if (over)
    return (
      <div className="grid gap-3">
        <p role="status" className="text-[15px]">
          <b>
            {right} of {trials} right{chance === null ? "" : `, ${chanceText(chance)}`}.
          </b>{" "}
          {chance !== null && verdictOf(right, trials, chance)}
        </p>
        {keeping.words && <p className="text-ink-2">{keeping.words}</p>}
        <Button className="justify-self-end" look="action" onClick={onClose}>
          Close
        </Button>
      </div>
    );
  return (
    <div className="grid gap-3">
      <p className="figure text-ink-2">
        Trial {said.length + 1} of {trials}
      </p>
      <div className="flex gap-2">
        <Button autoFocus onClick={() => listenTo(0)}>
          Hear A
        </Button>
        <Button onClick={() => listenTo(1)}>Hear B</Button>
        <Button look="ink" onClick={() => listenTo(x)}>
          Hear X
        </Button>
      </div>
      <div className="flex gap-2">
        <Button look="action" onClick={() => void say(0)}>
          X is A
        </Button>
        <Button look="action" onClick={() => void say(1)}>
          X is B
        </Button>
        <span className="flex-1" />
        <Button look="quiet" onClick={onClose}>
          End without a result
        </Button>
      </div>
    </div>
  );
}

function Ranking({ sides, names, onClose }: Props) {
  const [order] = useState(() => shuffled(sides.length));
  const [ranked, setRanked] = useState<number[]>([]);
  const keeping = useKeeping(sides, names);
  const over = ranked.length === sides.length;
  const pick = async (side: number) => {
    const next = [...ranked, side];
    const left = order.filter((one) => !next.includes(one));
    // The last one has the last place.
    const whole = left.length === 1 ? [...next, ...left] : next;
    setRanked(whole);
    if (whole.length < sides.length) return;
    deck.stop();
    await keeping.keep({ ranking: whole });
  };
  if (over)
    return (
      <div className="grid gap-3">
        <ol className="list-decimal pl-6">
          {ranked.map((side) => (
            <li key={side}>
              <b style={{ color: lettersOf(side).colour }}>{lettersOf(side).letter}</b>{" "}
              {names[side]?.name} <span className="text-ink-2">{names[side]?.detail}</span>
            </li>
          ))}
        </ol>
        {keeping.words && (
          <p role="status" className="text-ink-2">
            {keeping.words}
          </p>
        )}
        <Button className="justify-self-end" look="action" onClick={onClose}>
          Close
        </Button>
      </div>
    );
  return (
    <div className="grid gap-3">
      <p>
        Hear them in a shuffled order, and take the best of those that are left:{" "}
        <b>place {ranked.length + 1}</b>.
      </p>
      <ul className="grid gap-2">
        {order.map((side, n) =>
          ranked.includes(side) ? null : (
            <li key={side} className="flex gap-2">
              <Button onClick={() => listenTo(side)}>Hear {n + 1}</Button>
              <Button look="action" onClick={() => void pick(side)}>
                {n + 1} is the best of these
              </Button>
            </li>
          ),
        )}
      </ul>
    </div>
  );
}
