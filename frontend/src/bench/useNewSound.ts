import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, api, ApiError } from "../api/client";
import { emptySound } from "./edits";
import { useBench } from "./store";
import { saveNow } from "./useAutosave";

/** Makes the empty sound in the library of the open one, and opens it. */
export function useNewSound() {
  const [busy, setBusy] = useState(false);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const make = async () => {
    const { opened } = useBench.getState();
    if (!opened) return;
    setBusy(true);
    try {
      await saveNow();
      const body = { library_id: opened.libraryId, document: { ...emptySound("New sound") } };
      const draft = await answered(api.POST("/api/sounds", { body }));
      await queries.invalidateQueries({ queryKey: ["sounds"] });
      await navigate(`/bench/${draft.id}`);
    } catch (error) {
      const reason = error instanceof ApiError ? error.message : "The sound could not be made";
      useBench.setState({ auditionProblem: reason });
    } finally {
      setBusy(false);
    }
  };
  return { busy, make: () => void make() };
}
