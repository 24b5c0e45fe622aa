import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { resultOf, api, ApiError, libraryForNewSounds, type Sound } from "../api";
import { emptySound } from "./edits";
import { useBench } from "./store";
import { saveNow } from "./useAutosave";

/** Makes a sound as a private draft, in the library of the open one or one's own, and opens it. */
export function useNewSound() {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const make = async (document: Sound) => {
    const { opened } = useBench.getState();
    setBusy(true);
    setProblem(null);
    try {
      await saveNow();
      const library_id = opened?.editable ? opened.libraryId : (await libraryForNewSounds()).id;
      const body = { library_id, document: { ...document }, private: true };
      const draft = await resultOf(api.POST("/api/sounds", { body }));
      await Promise.all(
        ["sounds", "libraries"].map((key) => queries.invalidateQueries({ queryKey: [key] })),
      );
      await navigate(`/bench/${draft.id}`);
    } catch (error) {
      const reason = error instanceof ApiError ? error.message : "The sound could not be made";
      setProblem(reason);
      useBench.setState({ auditionProblem: reason });
    } finally {
      setBusy(false);
    }
  };
  return {
    busy,
    problem,
    make: () => void make(emptySound("New sound")),
    /** As one of the starters has it, with chances of its own. */
    makeFrom: (document: Sound) =>
      void make({ ...document, seed: Math.floor(Math.random() * 2 ** 31) }),
    /** As another sound is, to the sample. */
    makeCopy: (document: Sound) =>
      void make({ ...document, name: `${document.name.slice(0, 115)} copy` }),
  };
}
