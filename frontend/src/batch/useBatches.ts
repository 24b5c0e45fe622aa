import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, errorText, librariesQuery, mayDo, resultOf, type BatchPlan } from "../api";
import { openBatch, useBatch } from "./store";

/** All batches that may be seen, newest change first. */
export function useBatches(binned = false) {
  return useQuery({
    queryKey: ["batches", { binned }],
    queryFn: async () =>
      (await resultOf(api.GET("/api/batches", { params: { query: { binned } } }))).batches,
  });
}

/** Opens the batch of an address; answers what stood in the way. */
export function useOpenBatch(id: number): string | null {
  const [problem, setProblem] = useState<string | null>(null);
  const queries = useQueryClient();
  useEffect(() => {
    let wanted = true;
    const open = async () => {
      const params = { path: { batch_id: id } };
      const [draft, libraries] = await Promise.all([
        resultOf(api.GET("/api/batches/{batch_id}", { params })),
        queries.fetchQuery({ ...librariesQuery, staleTime: 10_000 }),
      ]);
      // What could not be saved yet stays.
      const { opened, save } = useBatch.getState();
      if (!wanted || (opened?.id === id && save.kind !== "saved")) return;
      const library = libraries.find((one) => one.id === draft.library_id);
      openBatch(
        {
          id: draft.id,
          libraryId: draft.library_id,
          libraryName: draft.library_name,
          editable: mayDo(library, "batch.edit"),
        },
        draft.version,
        draft.document as unknown as BatchPlan,
      );
    };
    open().catch((error: unknown) => {
      if (wanted) setProblem(errorText(error));
    });
    return () => {
      wanted = false;
    };
  }, [id, queries]);
  return problem;
}
