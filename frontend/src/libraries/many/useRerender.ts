import { useRef, useState } from "react";
import { said, useRefreshSamples } from "../../api/catalogue";
import { answered, api } from "../../api/client";
import type { components } from "../../api/generated/schema";
import { offerUndo } from "../queryStore";

export type Preview = components["schemas"]["RerenderBody"];
export interface Row {
  id: number;
  preview: Preview | null;
  /** Why there is no preview. */
  words: string | null;
}
interface Wanted {
  sample_rate: number | null;
  newest: boolean;
}

/** Samples rendered again one by one: first to be heard, then in their place. */
export function useRerender(ids: number[]) {
  const refresh = useRefreshSamples();
  const [rows, setRows] = useState<Row[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const [progress, setProgress] = useState<{
    verb: string;
    done: number;
    of: number;
    seconds: number;
  } | null>(null);
  const stopped = useRef(false);

  const each = async (verb: string, work: (id: number) => Promise<void>) => {
    stopped.current = false;
    const began = Date.now();
    for (const [done, id] of ids.entries()) {
      if (stopped.current) break;
      setProgress({ verb, done, of: ids.length, seconds: (Date.now() - began) / 1000 });
      await work(id);
    }
    setProgress(null);
  };
  const preview = async (wanted: Wanted) => {
    setRows([]);
    setProblem(null);
    await each("Rendering", async (id) => {
      const params = { path: { sample_id: id } };
      const body = { ...wanted, gesture: null };
      let row: Row = { id, preview: null, words: null };
      try {
        const request = api.POST("/api/samples/{sample_id}/rerender/preview", { params, body });
        row = { ...row, preview: await answered(request) };
      } catch (error) {
        row = { ...row, words: said(error) };
      }
      setRows((now) => [...now, row]);
    });
  };
  /** Answers whether all of it could be done. */
  const replace = async (wanted: Wanted): Promise<boolean> => {
    let gesture: string | null = null;
    let count = 0;
    const failed: string[] = [];
    await each("Replacing", async (id) => {
      if (!rows.some((row) => row.id === id && row.preview && !row.preview.same)) return;
      const params = { path: { sample_id: id } };
      const body = { ...wanted, gesture };
      try {
        const request = api.POST("/api/samples/{sample_id}/rerender", { params, body });
        const made = await answered(request);
        if (made.changed) count += 1;
        gesture = made.gesture;
      } catch (error) {
        failed.push(said(error));
      }
    });
    if (gesture) offerUndo(gesture, `${count} rendered again`);
    await refresh();
    setRows([]);
    if (failed.length > 0) setProblem(`${failed.length} stayed as they were: ${failed[0]}`);
    return failed.length === 0;
  };
  return {
    rows,
    problem,
    progress,
    preview,
    replace,
    stop: () => (stopped.current = true),
    /** What was heard is no longer what would be put in its place. */
    forget: () => {
      setRows([]);
      setProblem(null);
    },
  };
}
