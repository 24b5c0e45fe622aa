import { useEffect } from "react";
import { resultOf, api, failedSave, inTurn, type Sound } from "../api";
import { useBench } from "./store";

const PAUSE_MS = 500;
const RETRY_MS = 2000;

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
      save: { kind: unchanged ? "saved" : "changed" },
      // Meanwhile it may have been moved to a library: what is private no more stays so.
      opened:
        now.opened?.isPrivate && !draft.private ? { ...now.opened, isPrivate: false } : now.opened,
    }));
    if (unchanged) forgetEdits(opened.id);
  } catch (error) {
    if (still()) useBench.setState({ save: failedSave(error) });
  }
}

/** Save by itself within a second of a change, and again and again while the server can't. */
export function useAutosave(): void {
  useEffect(() => {
    let timer: number | undefined;
    const later = (pause: number) => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => void saveNow(), pause);
    };
    // Edits taken up from an earlier page wait to be saved already.
    if (useBench.getState().save.kind === "changed") later(PAUSE_MS);
    const leave = useBench.subscribe((state, before) => {
      if (state.save === before.save && state.document === before.document) return;
      if (state.save.kind === "changed") {
        if (state.opened?.editable && state.document !== before.document && state.document)
          keep(state.opened.id, { version: state.version, document: state.document });
        later(PAUSE_MS);
      }
      if (state.save.kind === "unsaved") later(RETRY_MS);
    });
    const leaving = () => {
      if (useBench.getState().save.kind === "changed") void saveNow();
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
