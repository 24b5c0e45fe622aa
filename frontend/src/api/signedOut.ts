import { create } from "zustand";

interface State {
  /** Whether somebody is signed in in this window, as far as it knows. */
  signedIn: boolean;
  /** Whether the server no longer knows them, though they did not sign out here. */
  signedOut: boolean;
}

export const useSignedOut = create<State>(() => ({ signedIn: false, signedOut: false }));

/** Somebody signed in or out here, on purpose. */
export const noteSession = (signedIn: boolean) =>
  useSignedOut.setState({ signedIn, signedOut: false });

/** The server refused a request because nobody is signed in. */
export const noteSignedOut = () =>
  useSignedOut.setState(({ signedIn }) => ({ signedOut: signedIn }));
