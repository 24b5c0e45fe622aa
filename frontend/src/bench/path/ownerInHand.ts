import { create } from "zustand";
import type { Sound } from "../../api";
import { chainPlaces, placeOf, type Selection, useBench } from "../../sound";

/** The layer, bus or "main" that a selection is in; null where it is in none, as a mover is. */
export function ownerOfSelection(sound: Sound, selection: Selection): string | null {
  if (selection.kind === "main") return "main";
  // A branch, and a bus's low part, are selected by the chain that they are.
  if (selection.kind === "layer" || selection.kind === "bus")
    return chainPlaces(sound).find(({ ref }) => ref === selection.id)?.owner ?? null;
  if (selection.kind !== "processor") return null;
  return placeOf(sound, selection.id)?.owner ?? null;
}

/** Whose chain was in hand last: it stays in sight while a mover or the notes are selected. */
const useLast = create<{ owner: string }>(() => ({ owner: "main" }));

useBench.subscribe(({ document, selection }) => {
  const owner = document && ownerOfSelection(document, selection);
  if (owner && owner !== useLast.getState().owner) useLast.setState({ owner });
});

/** Whose chain is shown. */
export function useOwnerInHand(sound: Sound | null): string {
  const selection = useBench((state) => state.selection);
  const last = useLast((state) => state.owner);
  if (!sound) return "main";
  const owner = ownerOfSelection(sound, selection) ?? last;
  return [...sound.layers, ...sound.buses].some(({ id }) => id === owner) ? owner : "main";
}
