import { useEffect } from "react";
import { type Companion, useLooked } from "../../api";
import { fetchChanges, useBench } from "../../sound";

const NOBODY: Companion[] = [];

/** Who else has this sound open; what they save is taken over as it comes. */
export function useOthers(): Companion[] {
  const id = useBench((state) => state.opened?.id ?? null);
  const looked = useLooked("sound", id);
  const state = looked?.state;
  const who = looked?.changed_by ?? "others";
  const saved = useBench((bench) => bench.save.kind === "saved" && bench.gesture === null);
  useEffect(() => {
    if (id === null || state === undefined || !saved) return;
    // Where it cannot be fetched now, it is with the next look.
    if (Number(state) > useBench.getState().version) void fetchChanges(id, who).catch(() => null);
  }, [id, state, who, saved]);
  return looked?.companions ?? NOBODY;
}
