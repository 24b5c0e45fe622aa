import { useEffect, useState } from "react";
import { asked } from "../../api/asked";
import { answered, api, ApiError } from "../../api/client";
import type { ComparisonAnswer } from "../../api/types";
import { useBench } from "../store";

const WAIT_MS = 250;

/** The sound beside its reference, a moment after what is shown was rendered. */
export function useComparison(): { found: ComparisonAnswer | null; problem: string | null } {
  const shown = useBench((state) => state.shown);
  const moving = useBench((state) => state.gesture !== null);
  const [state, setState] = useState<{ found: ComparisonAnswer | null; problem: string | null }>({
    found: null,
    problem: null,
  });
  useEffect(() => {
    if (!shown?.reference || moving) return;
    let wanted = true;
    const compare = async () => {
      try {
        const found = await answered(api.POST("/api/sources/reference", { body: asked(shown) }));
        if (wanted) setState({ found, problem: null });
      } catch (error) {
        const problem = error instanceof ApiError ? error.message : "They could not be compared";
        if (wanted) setState({ found: null, problem });
      }
    };
    const timer = window.setTimeout(() => void compare(), WAIT_MS);
    return () => {
      wanted = false;
      window.clearTimeout(timer);
    };
  }, [shown, moving]);
  return state;
}
