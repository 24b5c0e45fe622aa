import { useEffect } from "react";
import { api, failedSave, inTurn, resultOf, saveByItself } from "../api";
import { useTryOut } from "./store";

/** Save now, after any save under way; the store says how it went. */
export const saveTryOut = inTurn(saveOnce);

async function saveOnce(): Promise<void> {
  const { opened, document, version, save } = useTryOut.getState();
  if (!opened?.editable || !document || save.kind === "saved" || save.kind === "stale") return;
  useTryOut.setState({ save: { kind: "saving" } });
  const still = () => useTryOut.getState().opened?.id === opened.id;
  try {
    const params = { path: { tryout_id: opened.id } };
    const body = { base_version: version, document: { ...document } };
    const saved = await resultOf(api.PUT("/api/tryouts/{tryout_id}/draft", { params, body }));
    if (!still()) return;
    const unchanged = useTryOut.getState().document === document;
    useTryOut.setState({
      version: saved.version,
      save: { kind: unchanged ? "saved" : "changed" },
    });
  } catch (error) {
    if (still()) useTryOut.setState({ save: failedSave(error) });
  }
}

/** Save by itself within a second of a change, and again while the server can't. */
export function useTryOutAutosave(): void {
  useEffect(() => saveByItself(useTryOut, (state) => state.document, saveTryOut), []);
}
