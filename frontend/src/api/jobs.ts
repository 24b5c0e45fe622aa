import { useQuery, useQueryClient } from "@tanstack/react-query";
import { succeeded } from "./catalogue";
import { resultOf, api } from "./client";
import type { components } from "./generated/schema";

type Schemas = components["schemas"];
export type JobItem = Schemas["JobBody"];
export type RerenderRow = Schemas["RerenderRow"];

const ASK_EVERY_MS = 500;
const JOBS = ["jobs"];
const rendersKey = (id: number) => ["renders", id];
const pathOf = (id: number) => ({ params: { path: { job_id: id } } });

/** One's own long work, asked for again while some of it is under way. */
export function useJobs() {
  return useQuery({
    queryKey: JOBS,
    queryFn: async () => (await resultOf(api.GET("/api/jobs"))).jobs,
    refetchInterval: ({ state }) =>
      state.data?.some((job) => job.state === "running") ? 2 * ASK_EVERY_MS : false,
  });
}

/** New renders of a job as they come: only what is new is asked for. */
export function useRenders(id: number) {
  const queries = useQueryClient();
  return useQuery({
    queryKey: rendersKey(id),
    retry: false,
    // Rows may leave the job meanwhile: it is read again when it is opened again.
    gcTime: 0,
    queryFn: async () => {
      let rows = queries.getQueryData<{ rows: RerenderRow[] }>(rendersKey(id))?.rows ?? [];
      for (;;) {
        const params = { path: { job_id: id }, query: { after: rows.at(-1)?.position ?? -1 } };
        const answer = await resultOf(api.GET("/api/jobs/{job_id}/renders", { params }));
        if (answer.rows.length === 0) return { job: answer.job, rows };
        rows = [...rows, ...answer.rows];
      }
    },
    refetchInterval: ({ state }) => (state.data?.job.state === "running" ? ASK_EVERY_MS : false),
  });
}

/** What can be done with long work; what is shown of it is read again afterwards. */
export function useJobActions() {
  const queries = useQueryClient();
  const refresh = () => queries.invalidateQueries({ queryKey: JOBS });
  return {
    rerender: async (body: Schemas["RerenderRequest"]) => {
      const job = await resultOf(api.POST("/api/samples/rerender", { body }));
      await refresh();
      return job;
    },
    stop: async (id: number) => {
      await succeeded(api.POST("/api/jobs/{job_id}/stop", pathOf(id)));
      await queries.invalidateQueries({ queryKey: rendersKey(id) });
      await refresh();
    },
    discard: async (id: number) => {
      await succeeded(api.DELETE("/api/jobs/{job_id}", pathOf(id)));
      queries.removeQueries({ queryKey: rendersKey(id) });
      await refresh();
    },
    replace: async (id: number, sampleIds: number[]) => {
      const body = { sample_ids: sampleIds };
      const made = await resultOf(api.POST("/api/jobs/{job_id}/replace", { ...pathOf(id), body }));
      await refresh();
      return made;
    },
    /** All that is left of a job's renders, read from the beginning. */
    readAnew: (id: number) => queries.resetQueries({ queryKey: rendersKey(id) }),
  };
}
