import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, errorText, resultOf, type RoundDetail, type SheetRow } from "../api";
import { firstPictures } from "./pictures";
import { useBatch } from "./store";

const LOOKS_EACH_MS = 400;
// A sheet of thousands shows its first members at once; the others follow once those are drawn.
const FIRST_ROWS = 200;
const NEXT_ROWS = 2000;
const DRAWN_AFTER_MS = 250;

/** The rounds of a batch in their order. */
export function useRounds(batchId: number) {
  return useQuery({
    queryKey: ["batch", batchId, "rounds"],
    queryFn: async () =>
      (
        await resultOf(
          api.GET("/api/batches/{batch_id}/rounds", { params: { path: { batch_id: batchId } } }),
        )
      ).rounds,
  });
}

/** Show a round from its start: its members are read anew. */
export function showRound(round: RoundDetail): void {
  useBatch.setState({
    round,
    rows: new Map(),
    mark: 0,
    inHand: 1,
    picked: [],
    thinned: null,
    problem: null,
  });
}

/** Show a round with its first members; they and their pictures are asked for at the same time. */
export async function openRound(id: number): Promise<void> {
  // The one that is shown is kept current already.
  if (useBatch.getState().round?.id === id) return;
  try {
    firstPictures(id);
    const params = { path: { round_id: id }, query: { after: 0, count: FIRST_ROWS } };
    const [round, { rows, mark }] = await Promise.all([
      resultOf(api.GET("/api/rounds/{round_id}", { params: { path: { round_id: id } } })),
      resultOf(api.GET("/api/rounds/{round_id}/members", { params })),
    ]);
    showRound(round);
    useBatch.setState({ rows: new Map(rows.map((row) => [row.number, row])), mark });
  } catch (error) {
    useBatch.setState({ problem: errorText(error) });
  }
}

/** Members that were drawn anew wait again. */
export function forgetRows(numbers: readonly number[]): void {
  useBatch.setState((state) => {
    const rows = new Map(state.rows);
    for (const number of numbers) rows.delete(number);
    return { rows };
  });
}

/** Read the next members; whether more of them are there by now. */
async function readNew(id: number): Promise<boolean> {
  const { mark } = useBatch.getState();
  const query = { after: mark, count: NEXT_ROWS };
  const params = { path: { round_id: id }, query };
  const [round, sheet] = await Promise.all([
    resultOf(api.GET("/api/rounds/{round_id}", { params: { path: { round_id: id } } })),
    resultOf(api.GET("/api/rounds/{round_id}/members", { params })),
  ]);
  useBatch.setState((state) => {
    if (state.round?.id !== id || state.mark !== mark) return {};
    if (sheet.rows.length === 0) return { round };
    const rows = new Map<number, SheetRow>(state.rows);
    for (const row of sheet.rows) rows.set(row.number, row);
    return { round, rows, mark: sheet.mark };
  });
  return sheet.more;
}

/** Keeps the sheet current: all members at once when a round is opened, then those that come. */
export function useSheet(): void {
  const id = useBatch((state) => state.round?.id ?? null);
  const queries = useQueryClient();
  useEffect(() => {
    if (id === null) return;
    let wanted = true;
    let timer: number | undefined;
    const look = async () => {
      try {
        while (wanted && (await readNew(id)));
      } catch (error) {
        if (wanted) useBatch.setState({ problem: errorText(error) });
      }
      if (!wanted) return;
      const { round, opened } = useBatch.getState();
      if (round?.running) timer = window.setTimeout(() => void look(), LOOKS_EACH_MS);
      else void queries.invalidateQueries({ queryKey: ["batch", opened?.id, "rounds"] });
    };
    if (useBatch.getState().mark === 0) void look();
    else timer = window.setTimeout(() => void look(), DRAWN_AFTER_MS);
    // Begun anew by someone's press: it is looked at again.
    const leave = useBatch.subscribe((state, before) => {
      const began = state.round?.id === id && state.round.running && !before.round?.running;
      if (began) void look();
    });
    return () => {
      wanted = false;
      window.clearTimeout(timer);
      leave();
    };
  }, [id, queries]);
}

/** Distances and what stands out, once no more members come, and now and then before. */
export function useJudged() {
  const id = useBatch((state) => state.round?.id ?? 0);
  const running = useBatch((state) => state.round?.running ?? false);
  const done = useBatch((state) => state.round?.done ?? 0);
  // The sheet itself comes first.
  const allRead = useBatch((state) => state.rows.size >= (state.round?.done ?? 0));
  // While it runs, only when it has grown by a good part.
  const step = running ? 2 ** Math.floor(Math.log2(Math.max(8, done))) : done;
  return useQuery({
    queryKey: ["judged", id, step, running],
    enabled: id > 0 && done > 1 && (running || allRead),
    // Of the same round alone: another one's members have these numbers too.
    placeholderData: (before, query) => (query?.queryKey[1] === id ? before : undefined),
    queryFn: () =>
      resultOf(api.GET("/api/rounds/{round_id}/judged", { params: { path: { round_id: id } } })),
  });
}
