import { useEffect } from "react";
import { create } from "zustand";
import { renderRequest, resultOf, api, ApiError, type ComparisonAnswer } from "../../api";
import { useBench } from "../../sound";

const WAIT_MS = 250;

interface Compared {
  found: ComparisonAnswer | null;
  problem: string | null;
}

/** The last comparison with the reference, for the pictures that draw a part of it. */
export const useCompared = create<Compared>(() => ({ found: null, problem: null }));

/** Keeps the comparison current, a moment after what is shown was rendered. */
export function useComparison(): Compared {
  const shown = useBench((state) => state.shown);
  const moving = useBench((state) => state.gesture !== null);
  useEffect(() => () => useCompared.setState({ found: null, problem: null }), []);
  useEffect(() => {
    if (!shown?.reference || moving) return;
    let wanted = true;
    const compare = async () => {
      try {
        const found = await resultOf(
          api.POST("/api/sources/reference", { body: renderRequest(shown) }),
        );
        if (wanted) useCompared.setState({ found, problem: null });
      } catch (error) {
        const problem = error instanceof ApiError ? error.message : "They could not be compared";
        if (wanted) useCompared.setState({ found: null, problem });
      }
    };
    const timer = window.setTimeout(() => void compare(), WAIT_MS);
    return () => {
      wanted = false;
      window.clearTimeout(timer);
    };
  }, [shown, moving]);
  return useCompared();
}
