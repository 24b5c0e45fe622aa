import { useEffect } from "react";
import { resultOf, api, failedSave, inTurn, saveByItself, type Sound } from "../api";
import { takeOver } from "./changesOfOthers";
import { useBench } from "./store";

const keptKey = (soundId: number) => `nest-crate:unsaved:${soundId}`;

/** Edits kept in this browser because the server could not take them. */
interface KeptEdits {
  version: number;
  document: Sound;
}

export function keptEdits(soundId: number): KeptEdits | null {
  const text = localStorage.getItem(keptKey(soundId));
  return text === null ? null : (JSON.parse(text) as KeptEdits);
}

export function forgetEdits(soundId: number): void {
  localStorage.removeItem(keptKey(soundId));
}

function keep(soundId: number, edits: KeptEdits): void {
  try {
    localStorage.setItem(keptKey(soundId), JSON.stringify(edits));
  } catch {
    // The browser has no room; the edits live on in this page.
  }
}

/** Save the draft now, after any save under way; afterwards `save` in the store says how it went. */
export const saveNow = inTurn(saveOnce);

async function saveOnce(): Promise<void> {
  const { opened, document, version, save } = useBench.getState();
  if (!opened?.editable || !document || save.kind === "saved" || save.kind === "stale") return;
  keep(opened.id, { version, document });
  useBench.setState({ save: { kind: "saving" } });
  const still = () => useBench.getState().opened?.id === opened.id;
  try {
    const params = { path: { sound_id: opened.id } };
    const body = { base_version: version, document: { ...document } };
    const draft = await resultOf(api.PUT("/api/sounds/{sound_id}/draft", { params, body }));
    if (!still()) return;
    const unchanged = useBench.getState().document === document;
    useBench.setState((now) => ({
      version: draft.version,
      base: document,
      save: { kind: unchanged ? "saved" : "changed" },
      // Meanwhile it may have been moved to a library: what is private no more stays so.
      opened:
        now.opened?.isPrivate && !draft.private ? { ...now.opened, isPrivate: false } : now.opened,
    }));
    if (unchanged) forgetEdits(opened.id);
  } catch (error) {
    if (!still()) return;
    const failed = failedSave<Sound>(error);
    if (failed.kind === "stale" && takeOver(failed.savedVersion, failed.savedDocument, "others"))
      return;
    useBench.setState({ save: failed });
  }
}

/** Save by itself; until the server has an edit, this browser keeps it. */
export function useAutosave(): void {
  useEffect(() => {
    const leave = useBench.subscribe((state, before) => {
      const { opened, document, version, save } = state;
      if (save.kind === "changed" && opened?.editable && document && document !== before.document)
        keep(opened.id, { version, document });
    });
    const end = saveByItself(useBench, (state) => state.document, saveNow);
    return () => {
      leave();
      end();
    };
  }, []);
}
