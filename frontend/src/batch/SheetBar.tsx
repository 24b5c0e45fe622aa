import { X } from "lucide-react";
import { useState } from "react";
import type { JudgedRound, Round } from "../api";
import { Button } from "../ui";
import { hearRun, stopRun } from "./hearing";
import { RoundProgress } from "./RoundProgress";
import { runRound } from "./run";
import { useBatch, type Order } from "./store";
import { openRound } from "./useRounds";
import { FIGURE_NAMES } from "./words";

interface Props {
  rounds: readonly Round[];
  numbers: readonly number[];
  judged: JudgedRound | undefined;
}

const SHOWN = [
  ["all", "all"],
  ["undecided", "undecided"],
  ["kept", "kept"],
  ["standing out", "with remarks"],
] as const;

/** The rounds as a path, how far the one shown is, and how its members are ordered. */
export function SheetBar({ rounds, numbers }: Props) {
  const round = useBatch((state) => state.round);
  const problem = useBatch((state) => state.problem);
  const share = round && round.count > 0 ? (round.done + round.failed) / round.count : 0;
  const words = problem ?? (round?.problem ? `Not all could be made: ${round.problem}` : null);
  return (
    <div className="grid gap-1.5 border-b border-line px-3 py-2">
      <div className="flex min-w-0 flex-wrap items-center gap-x-2 gap-y-1">
        <RoundPath rounds={rounds} />
        {round && (
          <span className="ml-auto flex items-center gap-2">
            <RunChoice numbers={numbers} />
            <Ordering />
          </span>
        )}
      </div>
      {round && (
        <div
          role="progressbar"
          aria-label="Members made"
          aria-valuenow={round.done + round.failed}
          aria-valuemin={0}
          aria-valuemax={round.count}
          className="h-1 rounded-full bg-line-strong"
        >
          <div
            className={`h-1 rounded-full ${round.running ? "bg-action" : "bg-ink-3"}`}
            style={{ width: `${100 * share}%` }}
          />
        </div>
      )}
      <RoundProgress />
      <Picked />
      {words && (
        <p role="alert" className="flex items-center gap-2 text-[12px] text-bad">
          <span className="min-w-0 flex-1">{words}</span>
          {problem && (
            <button
              type="button"
              aria-label="Dismiss"
              className="grid size-6 place-items-center rounded-sm hover:bg-band"
              onClick={() => useBatch.setState({ problem: null })}
            >
              <X size={13} aria-hidden />
            </button>
          )}
        </p>
      )}
    </div>
  );
}

function RoundPath({ rounds }: { rounds: readonly Round[] }) {
  const shown = useBatch((state) => state.round);
  if (rounds.length === 0 && !shown)
    return <span className="text-[12.5px] text-ink-2">No round yet</span>;
  // A round just begun is not in the list that was read before.
  const all = shown && !rounds.some(({ id }) => id === shown.id) ? [...rounds, shown] : rounds;
  const numberOf = new Map(all.map(({ id, number }) => [id, number]));
  return (
    <nav aria-label="Rounds" className="flex min-w-0 flex-wrap items-center gap-1 text-[12.5px]">
      {all.map((one) => {
        const now = shown?.id === one.id ? shown : one;
        const parent = one.parent_id === null ? null : numberOf.get(one.parent_id);
        const from =
          parent === null
            ? ""
            : `${one.away ? "away from" : "around"} ${one.picked.length} of round ${parent ?? "?"}`;
        return (
          <span key={one.id} className="flex items-center gap-1">
            {from && (
              <span className="text-[11px] text-ink-2">
                → {one.picked.length} {one.away ? "left behind" : "picked"} →
              </span>
            )}
            <button
              type="button"
              aria-current={shown?.id === one.id ? "true" : undefined}
              title={from || "From the plan as it stood"}
              onClick={() => void openRound(one.id)}
              className={`min-h-6 rounded-control border px-2 ${shown?.id === one.id ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet hover:bg-band"}`}
            >
              Round {one.number} ·{" "}
              <span className="figure text-[11.5px]">
                {now.done < now.count ? `${now.done} of ${now.count}` : now.count}
              </span>
            </button>
          </span>
        );
      })}
    </nav>
  );
}

function Ordering() {
  const order = useBatch((state) => state.order);
  const show = useBatch((state) => state.show);
  const first = useBatch((state) => state.rows.values().next().value);
  const axes = Object.keys(first?.figures ?? {})
    .filter((name) => name.startsWith("axis:"))
    .map((name) => name.slice("axis:".length));
  const orders: (readonly [Order, string])[] = [
    ["plan", "as planned"],
    ["likeness", "alike together"],
    ["nearest", "nearest to another"],
    ["original", "nearest to the original"],
    ...axes.map(
      (axis) => [`figure:axis:${axis}` as const, axis.replace("macro:", "macro ")] as const,
    ),
    ...FIGURE_NAMES.map(
      ([name, label]) => [`figure:${name}` as const, label.toLowerCase()] as const,
    ),
  ];
  const style = "h-7 rounded-control border border-line-strong bg-sheet px-1.5 text-[12px]";
  return (
    <>
      <select
        aria-label="Order"
        className={style}
        value={order}
        onChange={(event) => useBatch.setState({ order: event.target.value as Order })}
      >
        {orders.map(([value, label]) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
      <select
        aria-label="Show"
        className={style}
        value={show}
        onChange={(event) => {
          const next = SHOWN.find(([value]) => value === event.target.value);
          if (next) useBatch.setState({ show: next[0] });
        }}
      >
        {SHOWN.map(([value, label]) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
    </>
  );
}

/** The members shown one after the other, as a game would play them. */
function RunChoice({ numbers }: { numbers: readonly number[] }) {
  const [playing, setPlaying] = useState(false);
  const [everyMs, setEveryMs] = useState("400");
  const [random, setRandom] = useState(true);
  const rows = useBatch((state) => state.rows);
  const there = numbers.filter(
    (number) => rows.get(number)?.words === "" && rows.get(number)?.verdict !== "rejected",
  );
  const toggle = () => {
    if (playing) stopRun();
    else hearRun(there, Math.max(0.05, Number(everyMs) / 1000 || 0.4), random);
    setPlaying(!playing);
  };
  return (
    <span className="flex items-center gap-1">
      <Button
        className="min-h-7 px-2 text-[12px]"
        disabled={there.length < 2 && !playing}
        title="Hear those that are not rejected one after the other, as a game would play them"
        onClick={toggle}
      >
        {playing ? "Stop" : "Play as a game"}
      </Button>
      <input
        aria-label="Every so many milliseconds"
        title="Milliseconds from one to the next"
        inputMode="numeric"
        className="figure h-7 w-12 rounded-control border border-line-strong bg-sheet px-1 text-right"
        value={everyMs}
        onChange={(event) => setEveryMs(event.target.value)}
      />
      <span className="text-[11.5px] text-ink-2">ms</span>
      <select
        aria-label="Choice"
        className="h-7 rounded-control border border-line-strong bg-sheet px-1 text-[12px]"
        value={random ? "random" : "turn"}
        onChange={(event) => setRandom(event.target.value === "random")}
      >
        <option value="random">random, no repeat</option>
        <option value="turn">in turn</option>
      </select>
    </span>
  );
}

function Picked() {
  const picked = useBatch((state) => state.picked);
  if (picked.length === 0) return null;
  return (
    <p className="flex flex-wrap items-center gap-2 rounded-control bg-band px-2 py-1 text-[12.5px]">
      <span>
        Picked for the next round: <span className="figure">{picked.join(", ")}</span>
      </span>
      <span className="ml-auto flex gap-1">
        <Button look="action" className="min-h-7" onClick={() => void runRound()}>
          More like these
        </Button>
        <Button className="min-h-7" onClick={() => void runRound(true)}>
          Further from these
        </Button>
        <Button look="quiet" className="min-h-7" onClick={() => useBatch.setState({ picked: [] })}>
          Clear
        </Button>
      </span>
    </p>
  );
}
