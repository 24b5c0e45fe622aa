import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { errorText, useRefreshSamples, useWork, type WorkHeaders } from "../../api";
import { offerUndo } from "../common";

interface Planned {
  gesture: string | null;
}

interface Options<Plan extends Planned> {
  /** Names what the plan depends on. */
  key: unknown[];
  enabled: boolean;
  ask: (apply: boolean, headers: WorkHeaders) => Promise<Plan>;
  /** What was done, for taking it back. */
  label: string;
  onDone: () => void;
}

/** A plan that is shown as it would be, and carried out on demand. */
export function usePlan<Plan extends Planned>({ key, enabled, ask, label, onDone }: Options<Plan>) {
  const refresh = useRefreshSamples();
  const { progress, run, stop } = useWork();
  const [state, setState] = useState<{ busy: boolean; problem: unknown }>({
    busy: false,
    problem: null,
  });
  const plan = useQuery({
    queryKey: ["plan", ...key],
    enabled,
    retry: false,
    gcTime: 0,
    queryFn: ({ signal }) => {
      // What nobody waits for any more, for something else was typed or the dialog is closed.
      signal.addEventListener("abort", stop);
      return run((headers) => ask(false, headers));
    },
  });
  const carryOut = async () => {
    setState({ busy: true, problem: null });
    try {
      const { gesture } = await run((headers) => ask(true, headers));
      if (gesture) offerUndo(gesture, label);
      await refresh();
      setState({ busy: false, problem: null });
      onDone();
    } catch (problem) {
      setState({ busy: false, problem });
    }
  };
  const problem: unknown = state.problem ?? plan.error;
  return {
    plan: plan.data,
    problem,
    words: problem ? errorText(problem) : null,
    busy: state.busy,
    waits: plan.isFetching,
    progress,
    stop,
    carryOut: () => void carryOut(),
  };
}
