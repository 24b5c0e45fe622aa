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
  const passing = error.status === 0 || error.status >= 500;
  return { kind: passing ? "unsaved" : "refused", reason: error.message };
}
