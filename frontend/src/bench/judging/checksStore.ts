import { create } from "zustand";
import type { Remark } from "../../api";
import { useBench, usePins } from "../../sound";

/** Whether the list of checks is open over the inspector. */
export const useChecksOpen = create<{ open: boolean }>(() => ({ open: false }));

/** The line that opens the list, to which the keyboard goes back. */
export const CHECKS_LINE = "checks-line";

export const toggleChecks = () => useChecksOpen.setState(({ open }) => ({ open: !open }));
export const closeChecks = () => useChecksOpen.setState({ open: false });

// What is selected is to be seen in the inspector, which the list covers.
useBench.subscribe((now, before) => {
  if (now.selection !== before.selection) closeChecks();
});

export const keyOf = ({ code, layer }: Remark) => `${code}:${layer ?? ""}`;

const NONE: Remark[] = [];
const NO_KEYS: string[] = [];
const WORST_FIRST: Remark["severity"][] = ["bad", "warn", "good"];

/** What the last render says of the sound, the worst first, without what was dismissed. */
export function useRemarks(): { shown: Remark[]; hidden: number } {
  const remarks = useBench((state) => state.audition?.remarks ?? NONE);
  const soundId = useBench((state) => state.opened?.id ?? 0);
  const dismissed = usePins((state) => state.dismissed[soundId] ?? NO_KEYS);
  const shown = remarks
    .filter((remark) => !dismissed.includes(keyOf(remark)))
    .sort((a, b) => WORST_FIRST.indexOf(a.severity) - WORST_FIRST.indexOf(b.severity));
  return { shown, hidden: remarks.length - shown.length };
}
