import { Download, Play, Redo2, Square, Undo2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { PlanFigures, PlanProbe } from "../api";
import { Button, useTitle } from "../ui";
import { redoBatch, undoBatch } from "./history";
import { KeepDialog } from "./KeepDialog";
import { goOn, runRound, stopRound } from "./run";
import { editPlan, useBatch } from "./store";
import { ThinDialog } from "./ThinDialog";
import { bytesText, spanText } from "./words";

interface Props {
  figures: PlanFigures | undefined;
  probe: PlanProbe | undefined;
}

interface HeaderProps extends Props {
  onShow: (libraryId: number, sampleIds: number[]) => void;
}

/** Name, what a run comes to, run, undo, thin, keep. */
export function Header({ figures, probe, onShow }: HeaderProps) {
  const past = useBatch((state) => state.past);
  const future = useBatch((state) => state.future);
  const editable = useBatch((state) => state.opened?.editable ?? false);
  const round = useBatch((state) => state.round);
  const rows = useBatch((state) => state.rows);
  const [thinning, setThinning] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const kept = [...rows.values()].filter(
    ({ verdict, sample_id }) => verdict === "kept" && sample_id === null,
  ).length;
  const undoLabel = past.at(-1)?.label;
  const redoLabel = future.at(-1)?.label;
  return (
    <header className="col-span-full flex min-w-0 flex-wrap items-center gap-2 border-b border-line-strong bg-panel px-4 py-[7px]">
      <Title />
      <Estimate figures={figures} probe={probe} />
      <RunButton runnable={editable && figures?.problems.length === 0} />
      <Button
        className="px-2.5"
        aria-label="Undo"
        disabled={!undoLabel}
        title={undoLabel ? `Undo: ${undoLabel}` : "Nothing to undo"}
        onClick={undoBatch}
      >
        <Undo2 size={15} aria-hidden />
      </Button>
      <Button
        className="px-2.5"
        aria-label="Redo"
        disabled={!redoLabel}
        title={redoLabel ? `Redo: ${redoLabel}` : "Nothing to redo"}
        onClick={redoBatch}
      >
        <Redo2 size={15} aria-hidden />
      </Button>
      {round && (
        <Button
          className="px-2.5"
          aria-label="Download the plan of this round"
          title="The plan with its sounds in it: nest-crate batch runs it anywhere, to the same bytes"
          onClick={() => window.location.assign(`/api/rounds/${round.id}/plan`)}
        >
          <Download size={15} aria-hidden />
        </Button>
      )}
      <Button disabled={rows.size < 2} onClick={() => setThinning(true)}>
        Thin out
      </Button>
      <Button
        look="action"
        disabled={!editable || kept === 0}
        title={kept === 0 ? "Mark members with K first, or thin out" : undefined}
        onClick={() => setKeeping(true)}
      >
        {kept > 0 ? `Keep ${kept} as a group` : "Keep as a group"}
      </Button>
      {thinning && <ThinDialog onClose={() => setThinning(false)} />}
      {keeping && <KeepDialog onClose={() => setKeeping(false)} onShow={onShow} />}
    </header>
  );
}

function Estimate({ figures, probe }: Props) {
  if (!figures) return null;
  const { count, workers } = figures;
  const audio = probe ? count * probe.length_s : null;
  const words = [
    `${count.toLocaleString()} ${count === 1 ? "member" : "members"}`,
    audio === null ? null : `${spanText(audio)} of audio`,
    probe ? bytesText(count * probe.bytes) : null,
    probe
      ? `about ${spanText((count * probe.member_s) / workers)} on ${workers} ${workers === 1 ? "worker" : "workers"}`
      : null,
  ].filter((one) => one !== null);
  return (
    <span
      className="figure rounded-control border border-line-strong bg-sheet px-2.5 py-1.5 text-[11.5px] max-[1180px]:hidden"
      title={probe ? `Estimated from ${probe.probed} members that were rendered` : undefined}
    >
      {words.join(" · ")}
    </span>
  );
}

function RunButton({ runnable }: { runnable: boolean }) {
  const round = useBatch((state) => state.round);
  const picked = useBatch((state) => state.picked.length);
  if (round?.running)
    return (
      <Button look="ink" onClick={() => void stopRound()}>
        <Square size={13} aria-hidden /> Stop
      </Button>
    );
  const missing = round ? round.count - round.done : 0;
  return (
    <>
      {round && missing > 0 && (
        <Button
          title={`${missing} members are missing or could not be made`}
          onClick={() => void goOn()}
        >
          Go on
        </Button>
      )}
      <Button look="ink" disabled={!runnable} onClick={() => void runRound()}>
        <Play size={14} aria-hidden />
        {picked > 0 ? `Run around ${picked} picked` : "Run"}
      </Button>
    </>
  );
}

function Title() {
  const plan = useBatch((state) => state.plan);
  const opened = useBatch((state) => state.opened);
  const save = useBatch((state) => state.save);
  const [typed, setTyped] = useState<string | null>(null);
  const name = plan?.name ?? "";
  useTitle(name, "Batch");
  const finish = () => {
    const next = typed?.trim() ?? "";
    if (next !== "" && next !== name) editPlan(`Name: ${next}`, (now) => ({ ...now, name: next }));
    setTyped(null);
  };
  const words = {
    saved: "plan saved",
    changed: "saving…",
    saving: "saving…",
    unsaved: "cannot save now, tries again",
    refused: "not saved",
    stale: "changed elsewhere",
  }[save.kind];
  const why = "reason" in save ? `${words}: ${save.reason}` : words;
  return (
    <div className="mr-auto min-w-[150px] flex-1">
      <h1 className="sr-only">Batch: {name}</h1>
      <input
        aria-label="Name of the batch"
        className="w-full truncate rounded-sm bg-transparent font-title text-[17px] leading-6 font-semibold"
        maxLength={120}
        value={typed ?? name}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") event.currentTarget.blur();
          if (event.key === "Escape") setTyped(null);
        }}
      />
      <p className="truncate text-[12px] text-ink-2">
        <Link to="/batch" className="underline">
          All batches
        </Link>{" "}
        · {opened?.libraryName} ·{" "}
        <span role="status" className={"reason" in save ? "text-bad" : ""} title={why}>
          {opened?.editable ? why : "listening only, changes are not saved"}
        </span>
      </p>
    </div>
  );
}
