import { create } from "zustand";
import type { SavingState, TryOut } from "../api";
import { withBeatTimes } from "../sound";

/** What the inspector of a try-out shows. */
export type Chosen =
  | { kind: "tryout" }
  | { kind: "part"; part: string }
  /** Hits of one part, by their places in it. */
  | { kind: "hits"; part: string; hits: number[] };

interface Step {
  label: string;
  before: TryOut;
  after: TryOut;
}

export type TryOutSave = SavingState<TryOut>;

export interface OpenedTryOut {
  id: number;
  libraryId: number;
  libraryName: string;
  /** Whether the account may change it; otherwise what is changed is heard, but not saved. */
  editable: boolean;
}

interface TryOutState {
  opened: OpenedTryOut | null;
  version: number;
  document: TryOut | null;
  /** Heard in place of the document while an offer is listened to; never saved. */
  tried: { key: string; document: TryOut } | null;
  past: Step[];
  future: Step[];
  gesture: string | null;
  chosen: Chosen;
  save: TryOutSave;
}

export const useTryOut = create<TryOutState>(() => ({
  opened: null,
  version: 0,
  document: null,
  tried: null,
  past: [],
  future: [],
  gesture: null,
  chosen: { kind: "tryout" },
  save: { kind: "saved" },
}));

const LONGEST_HISTORY = 1000;

/** Open a try-out afresh: nothing to undo, its first part chosen. */
export function openTryOut(opened: OpenedTryOut, version: number, document: TryOut): void {
  const first = document.parts[0];
  useTryOut.setState({
    opened,
    version,
    document,
    tried: null,
    past: [],
    future: [],
    gesture: null,
    chosen: first ? { kind: "part", part: first.id } : { kind: "tryout" },
    save: { kind: "saved" },
  });
}

/** Make one named change; changes of one gesture are one step of the history. */
export function editTryOut(
  label: string,
  change: (document: TryOut) => TryOut,
  { gesture = null, moving = false }: { gesture?: string | null; moving?: boolean } = {},
): void {
  useTryOut.setState((state) => {
    const before = state.document;
    if (!before) return {};
    const after = withBeatTimes(change(before));
    const open = moving ? gesture : null;
    if (after === before) return { gesture: open };
    const last = state.past.at(-1);
    const joined = gesture !== null && state.gesture === gesture && last !== undefined;
    const step = joined ? { ...last, label, after } : { label, before, after };
    return {
      document: after,
      tried: null,
      past: [...(joined ? state.past.slice(0, -1) : state.past), step].slice(-LONGEST_HISTORY),
      future: [],
      gesture: open,
      save: state.save.kind === "stale" ? state.save : { kind: "changed" },
    };
  });
}

function stepped(from: "past" | "future"): void {
  useTryOut.setState((state) => {
    const step = state[from].at(-1);
    if (!step) return {};
    const [document, other] =
      from === "past" ? [step.before, state.future] : [step.after, state.past];
    return {
      document,
      tried: null,
      [from]: state[from].slice(0, -1),
      [from === "past" ? "future" : "past"]: [...other, step],
      gesture: null,
      save: state.save.kind === "stale" ? state.save : { kind: "changed" },
    };
  });
}

export const undoTryOut = () => stepped("past");
export const redoTryOut = () => stepped("future");
export const choose = (chosen: Chosen) => useTryOut.setState({ chosen });

/** Hear a changed document until it is taken or let go; null lets it go. */
export const listenTo = (tried: { key: string; document: TryOut } | null) =>
  useTryOut.setState({ tried });

/** The id of the part that the inspector is about; null where it is about the whole. */
export const chosenPart = (chosen: Chosen) => (chosen.kind === "tryout" ? null : chosen.part);
