import { useEffect } from "react";
import { api, failedSave, inTurn, resultOf } from "../api";
import { useBatch } from "./store";

const PAUSE_MS = 500;
const RETRY_MS = 2000;

/** Save the plan now, after any save under way; the store says how it went. */
export const saveBatch = inTurn(saveOnce);

async function saveOnce(): Promise<void> {
  const { opened, plan, version, save } = useBatch.getState();
  if (!opened?.editable || !plan || save.kind === "saved" || save.kind === "stale") return;
  useBatch.setState({ save: { kind: "saving" } });
  const still = () => useBatch.getState().opened?.id === opened.id;
  try {
    const params = { path: { batch_id: opened.id } };
    const body = { base_version: version, document: { ...plan } };
    const saved = await resultOf(api.PUT("/api/batches/{batch_id}/draft", { params, body }));
    if (!still()) return;
    const unchanged = useBatch.getState().plan === plan;
    useBatch.setState({ version: saved.version, save: { kind: unchanged ? "saved" : "changed" } });
  } catch (error) {
    if (still()) useBatch.setState({ save: failedSave(error) });
  }
}

/** Save by itself within a second of a change, and again while the server can't. */
export function useBatchAutosave(): void {
  useEffect(() => {
    let timer: number | undefined;
    const later = (pause: number) => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => void saveBatch(), pause);
    };
    const leave = useBatch.subscribe((state, before) => {
      if (state.save === before.save && state.plan === before.plan) return;
      if (state.save.kind === "changed") later(PAUSE_MS);
      if (state.save.kind === "unsaved") later(RETRY_MS);
    });
    const leaving = () => {
      if (useBatch.getState().save.kind === "changed") void saveBatch();
    };
    window.addEventListener("pagehide", leaving);
    return () => {
      leave();
      window.clearTimeout(timer);
      window.removeEventListener("pagehide", leaving);
      leaving();
    };
  }, []);
}
