import { create } from "zustand";

/** What is looked for: anything, a processor to add, or one to put in another's place. */
export type Finding = { mode: "all" } | { mode: "processor" } | { mode: "replace"; id: string };

export const useFinder = create<{ finding: Finding | null }>(() => ({ finding: null }));

export const openFinder = (finding: Finding) => useFinder.setState({ finding });
export const closeFinder = () => useFinder.setState({ finding: null });
