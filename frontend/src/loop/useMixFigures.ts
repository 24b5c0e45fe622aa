import { useEffect, useState } from "react";
import { api, ApiError, ownStream, resultOf, untilAnswered, type MixFigures } from "../api";
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
    const control = new AbortController();
    const said = (error: unknown) =>
      setProblem(error instanceof ApiError ? error.message : "not measured");
    const ask = async () => {
      const drafts = [...heard.drafts].map(([sound_id, document]) => ({
        sound_id,
        document: { ...document },
      }));
      const document = { ...heard.document };
      const body = { document, drafts, round_number: 0, stream: ownStream(stream) };
      const once = (signal: AbortSignal) =>
        resultOf(api.POST("/api/tryouts/mix", { body, signal }));
      const figures = await untilAnswered(once, control.signal, said);
      if (!figures) return;
      setFound({ figures, of: heard });
      setProblem(null);
    };
    const timer = window.setTimeout(() => void ask().catch(said), PAUSE_MS);
    return () => {
      control.abort();
      window.clearTimeout(timer);
    };
  }, [heard, stream]);
  return { figures: found?.figures ?? null, problem, old: found !== null && found.of !== heard };
}
