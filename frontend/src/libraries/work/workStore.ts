import { create } from "zustand";

/** The long work whose dialog is open. */
export const useWorkDialog = create<{ jobId: number | null }>(() => ({ jobId: null }));

export const openWork = (jobId: number | null) => useWorkDialog.setState({ jobId });
