import { create } from "zustand";

/** Whether the inspector is open where it is a drawer. */
export const useInspectorDrawer = create<{ open: boolean }>(() => ({ open: false }));

export const setInspectorDrawer = (open: boolean) => useInspectorDrawer.setState({ open });
