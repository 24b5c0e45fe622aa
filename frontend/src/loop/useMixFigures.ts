import { useEffect, useState } from "react";
import { api, ApiError, resultOf, type MixFigures } from "../api";
import type { Heard } from "./hits";

const PAUSE_MS = 500;

export interface MixNow {
  figures: MixFigures | null;
  problem: string | null;
  /** What is shown is of an earlier state. */
  old: boolean;
}

/** Figures and picture of the mix, rendered once a change has come to rest. */
export function useMixFigures(heard: Heard | null, stream: string): MixNow {
  const [found, setFound] = useState<{ figures: MixFigures; of: Heard } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    if (!heard) return;
    let wanted = true;
    const ask = async () => {
      const drafts = [...heard.drafts].map(([sound_id, document]) => ({
        sound_id,
        document: { ...document },
      }));
      const body = { document: { ...heard.document }, drafts, round_number: 0, stream };
      try {
        const figures = await resultOf(api.POST("/api/tryouts/mix", { body }));
        if (!wanted) return;
        setFound({ figures, of: heard });
        setProblem(null);
      } catch (error) {
        // One that a newer one replaced says nothing.
        if (wanted && !(error instanceof ApiError && error.status === 409))
          setProblem(error instanceof ApiError ? error.message : "not measured");
      }
    };
    const timer = window.setTimeout(() => void ask(), PAUSE_MS);
    return () => {
      wanted = false;
      window.clearTimeout(timer);
    };
  }, [heard, stream]);
  return { figures: found?.figures ?? null, problem, old: found !== null && found.of !== heard };
}
