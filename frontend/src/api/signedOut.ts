import { create } from "zustand";

/** Whether the server no longer knows who this window belongs to, though somebody had signed in. */
export const useSignedOut = create<{ signedOut: boolean }>(() => ({ signedOut: false }));

export const noteSignedOut = (signedOut: boolean) => useSignedOut.setState({ signedOut });
