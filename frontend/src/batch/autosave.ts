import { useEffect } from "react";
import { api, failedSave, inTurn, resultOf, saveByItself } from "../api";
import { useBatch } from "./store";

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
  useEffect(() => saveByItself(useBatch, (state) => state.plan, saveBatch), []);
}
