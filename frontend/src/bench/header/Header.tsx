import { History as HistoryIcon, Play, Plus, Redo2, Undo2, Volume2, VolumeX } from "lucide-react";
import { useState } from "react";
import type { Declarations, Sound } from "../../api";
import { usePlayer } from "../../audio";
import { Button, Companions, useTitle } from "../../ui";
import { ContextButton, inContext, playInContext } from "../context";
import { StarterMenu } from "./StarterMenu";
import { HeaderMenu } from "./HeaderMenu";
import { HitFields, playBench } from "../playing";
import { HistoryDialog } from "../judging";
import { KeepTakeDialog } from "./KeepTakeDialog";
import { useOthers } from "./useOthers";
import { edit, redo, type SaveState, toggleListen, undo, useBench, useNewSound } from "../../sound";

export function Header({ declarations }: { declarations: Declarations }) {
  const past = useBench((state) => state.past);
  const future = useBench((state) => state.future);
  const listen = useBench((state) => state.listen);
  const editable = useBench((state) => state.opened?.editable ?? false);
  const [keeping, setKeeping] = useState(false);
  const [history, setHistory] = useState(false);
  const newSound = useNewSound();
  const heldBackDb = usePlayer((state) => state.heldBackDb);
  const Speaker = listen ? Volume2 : VolumeX;
  const undoLabel = past.at(-1)?.label;
  const redoLabel = future.at(-1)?.label;
  return (
    <header className="col-span-full flex h-[54px] min-w-0 items-center gap-2 border-b border-line-strong bg-panel px-4 tight:h-auto tight:flex-wrap tight:px-2 tight:py-1.5">
      <Title />
      {!editable && <CopyButton busy={newSound.busy} onCopy={newSound.makeCopy} />}
      {/* In a narrow window what plays stands in a row of its own. */}
      <span aria-hidden className="hidden h-0 basis-full tight:order-1 tight:block" />
      <Button
        look="ink"
        className="tight:order-1"
        onClick={() => (inContext() ? playInContext() : void playBench())}
        title="Play (Space)"
      >
        <Play size={14} aria-hidden /> Play
      </Button>
      <ContextButton />
      <Button
        look="quiet"
        className="px-2 tight:order-1"
        aria-pressed={listen}
        aria-label="Listen on change"
        title={
          listen ? "Every change plays; click to turn off" : "Changes do not play; click to turn on"
        }
        onClick={toggleListen}
      >
        <Speaker size={16} aria-hidden />
      </Button>
      {heldBackDb > 0 && (
        <span
          role="status"
          className="figure text-[11px] text-warn tight:order-1"
          title="The sound goes over full scale. Playback is turned down by so much; the sound itself stays as it is."
        >
          playback −{heldBackDb.toFixed(1)} dB
        </span>
      )}
      <HitFields declarations={declarations} />
      <Button
        className="px-2.5"
        aria-label="Undo"
        disabled={!undoLabel}
        title={undoLabel ? `Undo: ${undoLabel}` : "Nothing to undo"}
        onClick={undo}
      >
        <Undo2 size={15} aria-hidden />
      </Button>
      <Button
        className="px-2.5"
        aria-label="Redo"
        disabled={!redoLabel}
        title={redoLabel ? `Redo: ${redoLabel}` : "Nothing to redo"}
        onClick={redo}
      >
        <Redo2 size={15} aria-hidden />
      </Button>
      <Button
        className="px-2.5"
        aria-label="History"
        title="History: kept revisions"
        onClick={() => setHistory(true)}
      >
        <HistoryIcon size={15} aria-hidden />
      </Button>
      <Button onClick={newSound.make} disabled={newSound.busy} title="New sound" className="-mr-1">
        <Plus size={15} aria-hidden /> <span className="max-[1500px]:sr-only">New sound</span>
      </Button>
      <StarterMenu onChoose={newSound.makeFrom} />
      <HeaderMenu />
      <Button
        look="action"
        disabled={!editable}
        title={editable ? undefined : "Save a copy first: you may only listen to this sound"}
        onClick={() => setKeeping(true)}
      >
        Keep take
      </Button>
      <HistoryDialog open={history} onClose={() => setHistory(false)} />
      <KeepTakeDialog open={keeping} onClose={() => setKeeping(false)} />
    </header>
  );
}

function Title() {
  const name = useBench((state) => state.document?.name ?? "");
  const opened = useBench((state) => state.opened);
  const save = useBench((state) => state.save);
  const [typed, setTyped] = useState<string | null>(null);
  useTitle(name, "Bench");
  const companions = useOthers();
  const finish = () => {
    const next = typed?.trim() ?? "";
    if (next !== "" && next !== name) edit(`Name: ${next}`, (sound) => ({ ...sound, name: next }));
    setTyped(null);
  };
  return (
    <div className="mr-auto min-w-0 flex-1">
      <h1 className="sr-only">Bench: {name}</h1>
      <div className="flex items-center gap-1.5">
        <input
          aria-label="Name of the sound"
          className="min-w-0 flex-1 truncate rounded-sm bg-transparent font-title text-[17px] leading-6 font-semibold"
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
        <Companions companions={companions} compact />
      </div>
      <p className="truncate text-[12px] text-ink-2">
        {opened?.editable === false ? (
          <span role="status" className="text-warn">
            listening only, changes are not saved
          </span>
        ) : (
          <SaveWords save={save} />
        )}
        {opened && opened.revision > 0 ? ` · rev ${opened.revision}` : ""} ·{" "}
        {opened?.isPrivate ? (
          <span
            title={`Name it, keep a take or move it, and members of ${opened.libraryName} see it`}
          >
            private draft
          </span>
        ) : (
          opened?.libraryName
        )}
      </p>
    </div>
  );
}

interface CopyProps {
  busy: boolean;
  onCopy: (document: Sound) => void;
}

/** For someone who may only listen: the sound as it is now, as a sound of their own. */
function CopyButton({ busy, onCopy }: CopyProps) {
  const copy = () => {
    const { document } = useBench.getState();
    if (document) onCopy(document);
  };
  return (
    <Button disabled={busy} onClick={copy} title="Your own copy, with what you changed">
      Save a copy
    </Button>
  );
}

function SaveWords({ save }: { save: SaveState }) {
  const [words, tone] = saveWords(save);
  return (
    <span role="status" className={tone} title={words}>
      {words}
    </span>
  );
}

function saveWords(save: SaveState): [string, string] {
  switch (save.kind) {
    case "saved":
      return ["all changes saved", ""];
    case "changed":
    case "saving":
      return ["saving…", ""];
    case "unsaved":
      return [`cannot save, changes kept here: ${save.reason}`, "text-bad"];
    case "refused":
      return [`not saved: ${save.reason}`, "text-bad"];
    case "stale":
      return ["changed elsewhere: choose a version", "text-warn"];
  }
}
