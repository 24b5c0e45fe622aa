import { ApiError } from "./client";

/** How far the saving of a document has come. */
export type SavingState<Document> =
  | { kind: "saved" }
  | { kind: "changed" }
  | { kind: "saving" }
  | { kind: "unsaved"; reason: string }
  | { kind: "refused"; reason: string }
  | { kind: "stale"; savedVersion: number; savedDocument: Document };

/** Saves that follow each other: each begins after the one under way. */
export function inTurn(saveOnce: () => Promise<void>): () => Promise<void> {
  let saving: Promise<void> | null = null;
  return async () => {
    while (saving) await saving;
    saving = saveOnce().finally(() => {
      saving = null;
    });
    await saving;
  };
}

/** What a save that failed leaves behind: both versions, or a reason, which may pass. */
export function failedSave<Document>(error: unknown): SavingState<Document> {
  if (!(error instanceof ApiError)) throw error;
  if (error.status === 409) {
    const saved = error.problem?.details?.["saved"] as { version: number; document: Document };
    return { kind: "stale", savedVersion: saved.version, savedDocument: saved.document };
  }
  // Who was signed out signs in again over the screen.
  const passing = error.status === 0 || error.status === 401 || error.status >= 500;
  return { kind: passing ? "unsaved" : "refused", reason: error.message };
}

const PAUSE_MS = 500;
const RETRY_MS = 2000;

interface Store<State> {
  subscribe: (listen: (state: State, before: State) => void) => () => void;
  getState: () => State;
}

/**
 * Save within a second of a change, again while the server can't, and when the page is left; answers
 * what ends it.
 */
export function saveByItself<State extends { save: { kind: string } }>(
  store: Store<State>,
  documentOf: (state: State) => unknown,
  save: () => Promise<void>,
): () => void {
  let timer: number | undefined;
  const later = (pause: number) => {
    window.clearTimeout(timer);
    timer = window.setTimeout(() => void save(), pause);
  };
  // What was taken up from an earlier page waits to be saved already.
  if (store.getState().save.kind === "changed") later(PAUSE_MS);
  const leave = store.subscribe((state, before) => {
    if (state.save === before.save && documentOf(state) === documentOf(before)) return;
    if (state.save.kind === "changed") later(PAUSE_MS);
    if (state.save.kind === "unsaved") later(RETRY_MS);
  });
  const leaving = () => {
    if (store.getState().save.kind === "changed") void save();
  };
  window.addEventListener("pagehide", leaving);
  return () => {
    leave();
    window.clearTimeout(timer);
    window.removeEventListener("pagehide", leaving);
    leaving();
  };
}
