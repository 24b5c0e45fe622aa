import { resultOf, api, type Sound } from "../api";
import { merged } from "./merge";
import { useBench } from "./store";

/** Take over a newer draft that someone else saved; one's own changes that wait stay. */
export function takeOver(version: number, theirs: Sound, who: string): boolean {
  const { document, base, past, version: had } = useBench.getState();
  if (!document || !base || version <= had) return false;
  const { document: together, conflicts } = merged(base, document, theirs);
  if (conflicts.length > 0) return false;
  const own = document !== base;
  const step = { label: `Changes by ${who}`, before: document, after: together };
  useBench.setState({
    document: together,
    base: theirs,
    version,
    past: [...past, step],
    future: [],
    save: { kind: own ? "changed" : "saved" },
  });
  return true;
}

/** Fetch what someone else saved, and take it over where one's own changes do not stand against it. */
export async function fetchChanges(soundId: number, who: string): Promise<void> {
  const params = { path: { sound_id: soundId } };
  const draft = await resultOf(api.GET("/api/sounds/{sound_id}", { params }));
  const { opened, gesture, save } = useBench.getState();
  // A hand on a number is not interrupted; what waits to be saved is merged as it is saved.
  if (opened?.id !== soundId || gesture !== null || save.kind !== "saved") return;
  takeOver(draft.version, draft.document as Sound & Record<string, unknown>, who);
}
