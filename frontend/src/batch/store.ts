import { create } from "zustand";
import type { BatchPlan, RoundDetail, SavingState, SheetRow } from "../api";

export type Verdict = SheetRow["verdict"];
export type VerdictChange = { number: number; verdict?: Verdict; starred?: boolean };

export type Step =
  | { kind: "plan"; label: string; before: BatchPlan; after: BatchPlan }
  | {
      kind: "verdicts";
      label: string;
      round: number;
      before: VerdictChange[];
      after: VerdictChange[];
    };

export type Order = "plan" | "likeness" | "nearest" | "original" | `figure:${string}`;

interface BatchState {
  opened: { id: number; libraryId: number; libraryName: string; editable: boolean } | null;
  version: number;
  plan: BatchPlan | null;
  save: SavingState<BatchPlan>;
  past: Step[];
  future: Step[];
  gesture: string | null;
  /** The round that is shown; null before any was run. */
  round: RoundDetail | null;
  rows: ReadonlyMap<number, SheetRow>;
  mark: number;
  /** The member in hand. */
  inHand: number;
  /** Members that the next round is drawn around, or away from. */
  picked: readonly number[];
  order: Order;
  show: "all" | "undecided" | "kept" | "standing out";
  /** What thinning would keep, shown before it is done. */
  thinned: readonly number[] | null;
  problem: string | null;
}

const EMPTY: BatchState = {
  opened: null,
  version: 0,
  plan: null,
  save: { kind: "saved" },
  past: [],
  future: [],
  gesture: null,
  round: null,
  rows: new Map(),
  mark: 0,
  inHand: 1,
  picked: [],
  order: "plan",
  show: "all",
  thinned: null,
  problem: null,
};

export const useBatch = create<BatchState>(() => EMPTY);

const LONGEST_HISTORY = 1000;

export function openBatch(
  opened: NonNullable<BatchState["opened"]>,
  version: number,
  plan: BatchPlan,
): void {
  useBatch.setState({ ...EMPTY, opened, version, plan });
}

/** One named change of the plan; changes of one gesture are one step of the history. */
export function editPlan(
  label: string,
  change: (plan: BatchPlan) => BatchPlan,
  gesture: string | null = null,
): void {
  useBatch.setState((state) => {
    const before = state.plan;
    if (!before) return {};
    const after = change(before);
    if (after === before) return {};
    const last = state.past.at(-1);
    const joined = gesture !== null && state.gesture === gesture && last?.kind === "plan";
    const step: Step =
      joined && last.kind === "plan"
        ? { ...last, label, after }
        : { kind: "plan", label, before, after };
    return {
      plan: after,
      past: [...(joined ? state.past.slice(0, -1) : state.past), step].slice(-LONGEST_HISTORY),
      future: [],
      gesture,
      save: state.save.kind === "stale" ? state.save : { kind: "changed" },
    };
  });
}

/** Rows with verdicts changed. */
export function withVerdicts(
  rows: ReadonlyMap<number, SheetRow>,
  changes: readonly VerdictChange[],
): ReadonlyMap<number, SheetRow> {
  const next = new Map(rows);
  for (const change of changes) {
    const row = next.get(change.number);
    if (row) next.set(change.number, { ...row, ...change });
  }
  return next;
}

export function rememberVerdicts(
  label: string,
  round: number,
  before: VerdictChange[],
  after: VerdictChange[],
) {
  useBatch.setState((state) => ({
    rows: withVerdicts(state.rows, after),
    past: [...state.past, { kind: "verdicts" as const, label, round, before, after }].slice(
      -LONGEST_HISTORY,
    ),
    future: [],
    gesture: null,
  }));
}
