import { Play, Redo2, Repeat, Square, Undo2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import {
  editTryOut,
  redoTryOut,
  startLoop,
  stopLoop,
  undoTryOut,
  useLoop,
  useTryOut,
  type Heard,
  type TryOutSave,
} from "../loop";
import { Button, useTitle } from "../ui";
import { GiveMenu } from "./GiveMenu";
import { KeepMixDialog } from "./KeepMixDialog";
import { TimeFields } from "./TimeFields";

/** Name, transport, time, undo, and what is given away. */
export function Header({ heard }: { heard: Heard }) {
  const { past, future } = useTryOut();
  const editable = useTryOut((state) => state.opened?.editable ?? false);
  const { heldBackDb } = useLoop();
  const [keeping, setKeeping] = useState(false);
  const undoLabel = past.at(-1)?.label;
  const redoLabel = future.at(-1)?.label;
  return (
    <header className="col-span-full flex min-w-0 flex-wrap items-center gap-2 border-b border-line-strong bg-panel px-4 py-[7px]">
      <Title />
      <Transport heard={heard} />
      {heldBackDb > 0.05 && (
        <span
          role="status"
          className="figure text-[11px] text-warn"
          title="The mix goes over full scale. Playback is turned down by so much; the mix itself stays as it is."
        >
          playback −{heldBackDb.toFixed(1)} dB
        </span>
      )}
      <TimeFields />
      <Button
        className="px-2.5"
        aria-label="Undo"
        disabled={!undoLabel}
        title={undoLabel ? `Undo: ${undoLabel}` : "Nothing to undo"}
        onClick={undoTryOut}
      >
        <Undo2 size={15} aria-hidden />
      </Button>
      <Button
        className="px-2.5"
        aria-label="Redo"
        disabled={!redoLabel}
        title={redoLabel ? `Redo: ${redoLabel}` : "Nothing to redo"}
        onClick={redoTryOut}
      >
        <Redo2 size={15} aria-hidden />
      </Button>
      <GiveMenu />
      <Button
        look="action"
        disabled={!editable}
        title={editable ? undefined : "Duplicate it first: you may only listen to this try-out"}
        onClick={() => setKeeping(true)}
      >
        Keep mix
      </Button>
      <KeepMixDialog open={keeping} onClose={() => setKeeping(false)} />
    </header>
  );
}

function Transport({ heard }: { heard: Heard }) {
  const { playing, loading, problem } = useLoop();
  const loop = heard.document.loop;
  return (
    <>
      <Button
        look="ink"
        title="Play (Space)"
        onClick={() => (playing ? stopLoop() : void startLoop(heard))}
      >
        {playing ? <Square size={13} aria-hidden /> : <Play size={14} aria-hidden />}
        {playing ? "Stop" : "Play"}
      </Button>
      <Button
        className="px-2.5"
        aria-pressed={loop}
        aria-label="Loop"
        title={loop ? "Plays over and over" : "Plays once"}
        style={loop ? { background: "var(--band)", borderColor: "var(--ink)" } : undefined}
        onClick={() =>
          editTryOut(loop ? "Loop off" : "Loop on", (now) => ({ ...now, loop: !now.loop }))
        }
      >
        <Repeat size={15} aria-hidden />
      </Button>
      {loading && loading.done < loading.of && (
        <span role="status" className="figure text-[11px] text-ink-2">
          rendering {loading.done} of {loading.of}
        </span>
      )}
      {problem && (
        <span role="alert" className="max-w-[220px] truncate text-[12px] text-bad" title={problem}>
          {problem}
        </span>
      )}
    </>
  );
}

function Title() {
  const { document, opened, save } = useTryOut();
  const [typed, setTyped] = useState<string | null>(null);
  const name = document?.name ?? "";
  useTitle(name, "Try-out");
  const finish = () => {
    const next = typed?.trim() ?? "";
    if (next !== "" && next !== name)
      editTryOut(`Name: ${next}`, (now) => ({ ...now, name: next }));
    setTyped(null);
  };
  return (
    <div className="mr-auto min-w-[150px] flex-1">
      <h1 className="sr-only">Try-out: {name}</h1>
      <input
        aria-label="Name of the try-out"
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
        <Link to="/tryout" className="underline">
          All try-outs
        </Link>{" "}
        · {opened?.libraryName} · <SaveWords save={save} editable={opened?.editable ?? false} />
      </p>
    </div>
  );
}

function SaveWords({ save, editable }: { save: TryOutSave; editable: boolean }) {
  if (!editable)
    return (
      <span role="status" className="text-warn">
        listening only, changes are not saved
      </span>
    );
  const words = {
    saved: "all changes saved",
    changed: "saving…",
    saving: "saving…",
    unsaved: "cannot save now, tries again",
    refused: "not saved",
    stale: "changed elsewhere: choose a state",
  }[save.kind];
  const why = "reason" in save ? `${words}: ${save.reason}` : words;
  return (
    <span role="status" title={why} className={"reason" in save ? "text-bad" : ""}>
      {why}
    </span>
  );
}
