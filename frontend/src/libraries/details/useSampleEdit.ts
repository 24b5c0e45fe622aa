import { useRef, useState } from "react";
import {
  asChanges,
  type SampleChanges,
  useRefreshSamples,
  resultOf,
  api,
  ApiError,
  type SampleItem,
} from "../../api";
import { SeenVersions } from "./seenVersions";

/** Fields that someone else changed in between, with both values. */
export interface Conflict {
  version: number;
  saved: Record<string, unknown>;
  yours: Record<string, unknown>;
}

/** What someone else changed, where a save was refused for that. */
export function conflictOf(error: unknown): Conflict | null {
  if (!(error instanceof ApiError) || error.problem?.code !== "stale_save") return null;
  const { version, saved, yours } = error.problem.details;
  const records = [saved, yours].every((one) => typeof one === "object" && one !== null);
  return typeof version === "number" && records
    ? {
        version,
        saved: saved as Record<string, unknown>,
        yours: yours as Record<string, unknown>,
      }
    : null;
}

/** Changes of one sample; what was changed by two people is kept until one of both is chosen. */
export function useSampleEdit(sample: SampleItem) {
  const refresh = useRefreshSamples();
  const [problem, setProblem] = useState<unknown>(null);
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const [givenUp, setGivenUp] = useState(0);
  const [underWay, setUnderWay] = useState(0);
  const sending = useRef<Promise<boolean>>(Promise.resolve(true));
  const [versions] = useState(() => new SeenVersions());
  const send = async (changes: SampleChanges, seen: number): Promise<boolean> => {
    const base = versions.newest(seen);
    try {
      const params = { path: { sample_id: sample.id } };
      const body = { base_version: base, changes: asChanges(changes) };
      const { version } = await resultOf(api.PATCH("/api/samples/{sample_id}", { params, body }));
      versions.saved(base, version);
      setProblem(null);
      setConflict(null);
      await refresh();
      return true;
    } catch (error) {
      const found = conflictOf(error);
      setConflict(found);
      setProblem(found ? null : error);
      return false;
    }
  };
  // One after the other: what is typed on while the first of it is saved is no change by others.
  const save = (changes: SampleChanges, seen = sample.version): Promise<boolean> => {
    setUnderWay((count) => count + 1);
    sending.current = sending.current
      .then(() => send(changes, seen))
      .finally(() => setUnderWay((count) => count - 1));
    return sending.current;
  };
  return {
    problem,
    conflict,
    /** Whether changes are being sent, so that what is seen may not be the newest. */
    saving: underWay > 0,
    /** Counts how often what was typed was given up for what is there. */
    givenUp,
    save,
    /** Keep one's own values in spite of the others'. */
    keepMine: () => {
      if (!conflict) return;
      versions.chosen(conflict.version);
      void save(conflict.yours as SampleChanges);
    },
    /** Go on with what is there. */
    takeTheirs: () => {
      if (conflict) versions.chosen(conflict.version);
      setConflict(null);
      setGivenUp((count) => count + 1);
      void refresh();
    },
  };
}
