import { useEffect, useRef } from "react";
import { type Companion, useLooked, useRefreshSamples } from "../../api";

const NOBODY: Companion[] = [];

/** Who else looks at a library; its list follows what they change. */
export function useOthers(libraryId: number | null): Companion[] {
  const looked = useLooked("library", libraryId);
  const refresh = useRefreshSamples();
  const state = looked?.state;
  const seen = useRef<{ libraryId: number | null; state: string } | null>(null);
  useEffect(() => {
    if (state === undefined) return;
    const before = seen.current;
    seen.current = { libraryId, state };
    if (before !== null && before.libraryId === libraryId && before.state !== state) void refresh();
  }, [libraryId, state, refresh]);
  return looked?.companions ?? NOBODY;
}
