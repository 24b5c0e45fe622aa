import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { resultOf, api, ApiError, type Sound } from "../api";
import { emptySound } from "./edits";
import { useBench } from "./store";
import { saveNow } from "./useAutosave";

/** Makes the empty sound in the library of the open one, and opens it. */
export function useNewSound() {
  const [busy, setBusy] = useState(false);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const make = async (document: Sound) => {
    const { opened } = useBench.getState();
    if (!opened) return;
    setBusy(true);
    try {
      await saveNow();
      const body = { library_id: opened.libraryId, document: { ...document } };
      const draft = await resultOf(api.POST("/api/sounds", { body }));
      await queries.invalidateQueries({ queryKey: ["sounds"] });
      await navigate(`/bench/${draft.id}`);
    } catch (error) {
      const reason = error instanceof ApiError ? error.message : "The sound could not be made";
      useBench.setState({ auditionProblem: reason });
    } finally {
      setBusy(false);
    }
  };
  return {
    busy,
    make: () => void make(emptySound("New sound")),
    /** As one of the starters has it, with chances of its own. */
    makeFrom: (document: Sound) =>
      void make({ ...document, seed: Math.floor(Math.random() * 2 ** 31) }),
  };
}
