import { useEffect, useMemo } from "react";
import { api, succeeded } from "../api";
import { useBatchAutosave } from "./autosave";
import { Header } from "./Header";
import { stopRun } from "./hearing";
import { MemberLeaf } from "./MemberLeaf";
import { orderedNumbers } from "./ordered";
import { PlanPanel } from "./PlanPanel";
import { Sheet } from "./Sheet";
import { SheetBar } from "./SheetBar";
import { StaleDialog } from "./StaleDialog";
import { useBatch } from "./store";
import { useKeys } from "./useKeys";
import { usePlanFigures, useProbe } from "./usePlanFigures";
import { openRound, useJudged, useRounds, useSheet } from "./useRounds";

interface Props {
  id: number;
  onShow: (libraryId: number, sampleIds: number[]) => void;
}

/** The screen: plan at the left, the sheet of members, the member in hand at the right. */
export function Batch({ id, onShow }: Props) {
  useBatchAutosave();
  useSheet();
  const plan = useBatch((state) => state.plan);
  const round = useBatch((state) => state.round);
  const rows = useBatch((state) => state.rows);
  const order = useBatch((state) => state.order);
  const show = useBatch((state) => state.show);
  const rounds = useRounds(id);
  const judged = useJudged().data;
  const figures = usePlanFigures(plan).data;
  const runnable = (figures?.problems.length ?? 1) === 0;
  const probe = useProbe(plan, runnable);
  const count = round?.count ?? 0;
  const numbers = useMemo(
    () => orderedNumbers({ count, rows, judged, order, show }),
    [count, rows, judged, order, show],
  );
  useKeys(numbers);
  useEffect(() => {
    // A round will be run soon; starting the workers takes a few seconds.
    const params = { path: { batch_id: id } };
    void succeeded(api.POST("/api/batches/{batch_id}/ready", { params })).catch(() => undefined);
    return stopRun;
  }, [id]);
  const newest = rounds.data?.at(-1)?.id ?? null;
  const isOpen = round !== null;
  useEffect(() => {
    if (newest !== null && !isOpen) void openRound(newest);
  }, [newest, isOpen]);
  return (
    <main
      id="work"
      tabIndex={-1}
      className="grid min-w-0 flex-1 grid-cols-[264px_minmax(0,1fr)_272px] grid-rows-[auto_minmax(0,1fr)] narrow:grid-cols-[minmax(0,1fr)] narrow:grid-rows-none narrow:overflow-y-auto"
    >
      <Header figures={figures} probe={probe.data} onShow={onShow} />
      <PlanPanel figures={figures} probe={probe.data} probing={probe.isFetching} />
      <section
        aria-label="Members"
        className="flex min-h-0 min-w-0 flex-col border-x border-line-strong bg-paper narrow:min-h-[420px]"
      >
        <SheetBar rounds={rounds.data ?? []} numbers={numbers} judged={judged} />
        <Sheet numbers={numbers} judged={judged} />
      </section>
      <MemberLeaf judged={judged} />
      <StaleDialog />
    </main>
  );
}
