import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, mayPass, ownStream, resultOf, wasReplaced, type BatchPlan } from "../api";

const PAUSE_MS = 250;
const PROBE_PAUSE_MS = 900;

/** A value once it has come to rest. */
function useRested<Value>(value: Value, pauseMs: number): Value {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(value), pauseMs);
    return () => window.clearTimeout(timer);
  }, [value, pauseMs]);
  return rested;
}

/** The plan counted, and what can be spread. */
export function usePlanFigures(plan: BatchPlan | null) {
  const rested = useRested(plan, PAUSE_MS);
  return useQuery({
    queryKey: ["plan figures", rested],
    enabled: rested !== null,
    placeholderData: keepPreviousData,
    queryFn: () =>
      resultOf(api.POST("/api/batches/figures", { body: { document: { ...rested } } })),
  });
}

/** A few members rendered and measured: how different they are, how long, how large. */
export function useProbe(plan: BatchPlan | null, runnable: boolean) {
  const rested = useRested(plan, PROBE_PAUSE_MS);
  return useQuery({
    queryKey: ["plan probe", rested],
    enabled: rested !== null && runnable,
    placeholderData: keepPreviousData,
    retry: (times, error) => times < 5 && (mayPass(error) || wasReplaced(error)),
    queryFn: () =>
      resultOf(
        api.POST("/api/batches/probe", {
          body: { document: { ...rested }, stream: ownStream("probe") },
        }),
      ),
  });
}
