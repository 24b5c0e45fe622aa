import { create } from "zustand";
import { useBench } from "../../sound";
import { useContext } from "../../loop";

/** Whether the overlap lies open over the inspector. */
export const useOverlapOpen = create<{ open: boolean }>(() => ({ open: false }));

export const toggleOverlap = () => useOverlapOpen.setState(({ open }) => ({ open: !open }));
export const closeOverlap = () => useOverlapOpen.setState({ open: false });

// What is selected is to be seen in the inspector, which it covers.
useBench.subscribe((now, before) => {
  if (now.selection !== before.selection) closeOverlap();
});
useContext.subscribe((now) => {
  if (!now.on) closeOverlap();
});

const keyOf = (soundId: number) => `nest-crate:context:${soundId}`;

/** The try-out in which a sound was heard last, on this browser. */
export function lastContext(soundId: number): number | null {
  const kept = Number(localStorage.getItem(keyOf(soundId)));
  return kept > 0 ? kept : null;
}

export function rememberContext(soundId: number, tryoutId: number): void {
  try {
    localStorage.setItem(keyOf(soundId), `${tryoutId}`);
  } catch {
    // Without room it is chosen anew next time.
  }
}
