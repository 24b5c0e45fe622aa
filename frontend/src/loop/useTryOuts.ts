import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { api, ApiError, librariesQuery, mayDo, resultOf, type TryOut } from "../api";
import { openTryOut, useTryOut } from "./store";

/** All try-outs that may be seen, newest change first. */
export function useTryOuts(binned = false) {
  return useQuery({
    queryKey: ["tryouts", { binned }],
    queryFn: async () =>
      (await resultOf(api.GET("/api/tryouts", { params: { query: { binned } } }))).tryouts,
  });
}

/** Opens a try-out in the store. */
export function useOpener() {
  const queries = useQueryClient();
  return useCallback(
    async (id: number, wanted: () => boolean = () => true): Promise<void> => {
      // What could not be saved yet stays; all else is read anew, for others may have changed it.
      const unsaved = () => {
        const { opened: now, save } = useTryOut.getState();
        return now?.id === id && save.kind !== "saved";
      };
      if (unsaved()) return;
      const params = { path: { tryout_id: id } };
      const [draft, libraries] = await Promise.all([
        resultOf(api.GET("/api/tryouts/{tryout_id}", { params })),
        queries.fetchQuery({ ...librariesQuery, staleTime: 10_000 }),
      ]);
      if (!wanted() || unsaved()) return;
      const library = libraries.find((one) => one.id === draft.library_id);
      const opened = {
        id: draft.id,
        libraryId: draft.library_id,
        libraryName: draft.library_name,
        editable: mayDo(library, "tryout.edit"),
      };
      openTryOut(opened, draft.version, draft.document as unknown as TryOut);
    },
    [queries],
  );
}

/** Opens the try-out of an address; answers what stood in the way. */
export function useOpenTryOut(id: number): string | null {
  const [problem, setProblem] = useState<string | null>(null);
  const open = useOpener();
  useEffect(() => {
    let wanted = true;
    open(id, () => wanted).catch((error: unknown) => {
      if (wanted) setProblem(error instanceof ApiError ? error.message : "It could not be opened");
    });
    return () => {
      wanted = false;
    };
  }, [id, open]);
  return problem;
}
