import { api, errorText, succeeded } from "../api";
import {
  rememberVerdicts,
  useBatch,
  withVerdicts,
  type Step,
  type Verdict,
  type VerdictChange,
} from "./store";

const sent = ({
  number,
  verdict = null,
  starred = null,
}: {
  number: number;
  verdict?: Verdict | null;
  starred?: boolean | null;
}) => ({ number, verdict, starred });

let under: Promise<void> = Promise.resolve();

/** One after the other: an undo must not arrive before what it takes back. */
function send(round: number, after: VerdictChange[], before: VerdictChange[]): void {
  under = under.then(() => sendNow(round, after, before));
}

/** Send verdicts; where that fails, what they were is shown again with the reason. */
async function sendNow(
  round: number,
  after: VerdictChange[],
  before: VerdictChange[],
): Promise<void> {
  try {
    const params = { path: { round_id: round } };
    await succeeded(
      api.PUT("/api/rounds/{round_id}/verdicts", { params, body: { changes: after.map(sent) } }),
    );
    useBatch.setState({ problem: null });
  } catch (error) {
    useBatch.setState((state) => ({
      problem: errorText(error),
      rows: state.round?.id === round ? withVerdicts(state.rows, before) : state.rows,
    }));
  }
}

function decide(label: string, changes: VerdictChange[]): void {
  const { round, rows } = useBatch.getState();
  if (!round) return;
  const here = changes.filter(({ number }) => rows.get(number)?.words === "");
  if (here.length === 0) return;
  const before = here.map((change): VerdictChange => {
    const row = rows.get(change.number);
    return {
      number: change.number,
      ...(change.verdict !== undefined ? { verdict: row?.verdict ?? "" } : {}),
      ...(change.starred !== undefined ? { starred: row?.starred ?? false } : {}),
    };
  });
  rememberVerdicts(label, round.id, before, here);
  send(round.id, here, before);
}

const named = (numbers: readonly number[]) =>
  numbers.length === 1 ? `Member ${numbers[0] ?? ""}` : `${numbers.length} members`;

/** Keep or reject members; what they are already is taken back. */
export function judge(numbers: readonly number[], verdict: Verdict): void {
  const { rows } = useBatch.getState();
  const all = numbers.every((number) => rows.get(number)?.verdict === verdict);
  const next = all ? "" : verdict;
  const label = `${named(numbers)} ${next === "" ? "undecided" : next}`;
  decide(
    label,
    numbers.map((number) => ({ number, verdict: next })),
  );
}

export function star(number: number): void {
  const starred = !(useBatch.getState().rows.get(number)?.starred ?? false);
  decide(`Member ${number} ${starred ? "starred" : "without star"}`, [{ number, starred }]);
}

/** Keep exactly these, and reject all others that were made: one step. */
export function keepOnly(numbers: readonly number[]): void {
  const { rows } = useBatch.getState();
  const chosen = new Set(numbers);
  const changes = [...rows.values()]
    .filter(({ words }) => words === "")
    .map(({ number }): VerdictChange => ({
      number,
      verdict: chosen.has(number) ? "kept" : "rejected",
    }));
  decide(`Thinned to ${numbers.length}`, changes);
}

function apply(step: Step, to: "before" | "after"): void {
  if (step.kind === "plan") {
    useBatch.setState((state) => ({
      plan: step[to],
      gesture: null,
      save: state.save.kind === "stale" ? state.save : { kind: "changed" },
    }));
    return;
  }
  useBatch.setState((state) => ({
    rows: state.round?.id === step.round ? withVerdicts(state.rows, step[to]) : state.rows,
  }));
  send(step.round, step[to], step[to === "before" ? "after" : "before"]);
}

function stepped(from: "past" | "future"): void {
  const state = useBatch.getState();
  const step = state[from].at(-1);
  if (!step) return;
  const other = from === "past" ? "future" : "past";
  useBatch.setState({ [from]: state[from].slice(0, -1), [other]: [...state[other], step] });
  apply(step, from === "past" ? "before" : "after");
}

export const undoBatch = () => stepped("past");
export const redoBatch = () => stepped("future");
