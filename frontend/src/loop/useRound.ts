import { useEffect, useReducer, useState } from "react";
import { ApiError, type RoundPlan, type TryOut } from "../api";
import { audioOf, type Heard } from "./hits";
import { planOf } from "./plans";
import { wishesOf } from "./wishes";

export interface RoundNow {
  /** The plan of the document, or of the one before it until its own is there. */
  plan: RoundPlan | null;
  /** The document that the plan is of. */
  of: TryOut | null;
  problem: string | null;
  /** Rises with every hit that has come, so that it is drawn. */
  come: number;
}

const PAUSE_MS = 40;
const TELL_EACH_MS = 150;

/** The plan of what is heard, and its hits fetched so that they can be drawn and played. */
export function useRound(heard: Heard | null): RoundNow {
  const [found, setFound] = useState<{ plan: RoundPlan; of: TryOut } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [come, more] = useReducer((count: number) => count + 1, 0);
  useEffect(() => {
    if (!heard) return;
    let wanted = true;
    const fetchAll = async () => {
      try {
        const plan = await planOf(heard.document);
        if (!wanted) return;
        setFound({ plan, of: heard.document });
        setProblem(null);
        let toldAt = 0;
        for (const wish of wishesOf(heard, plan)) {
          if (!wanted) return;
          await audioOf(wish).then(
            () => {
              // Many come at once; lanes are not drawn for each.
              if (!wanted || performance.now() - toldAt < TELL_EACH_MS) return;
              toldAt = performance.now();
              more();
            },
            (error: unknown) => {
              if (wanted) setProblem(error instanceof ApiError ? error.message : "not rendered");
            },
          );
        }
        if (wanted) more();
      } catch (error) {
        if (wanted) setProblem(error instanceof ApiError ? error.message : "not planned");
      }
    };
    const timer = window.setTimeout(() => void fetchAll(), PAUSE_MS);
    return () => {
      wanted = false;
      window.clearTimeout(timer);
    };
  }, [heard]);
  return { plan: found?.plan ?? null, of: found?.of ?? null, problem, come };
}
