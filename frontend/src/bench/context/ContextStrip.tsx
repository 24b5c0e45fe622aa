import { useState } from "react";
import { Link } from "react-router";
import { Play, Square, Undo2 } from "lucide-react";
import { errorText } from "../../api";
import {
  partsOfSound,
  stopLoop,
  undoTryOut,
  useContext,
  useLoop,
  useOpener,
  useTryOut,
} from "../../loop";
import { useBench } from "../../sound";
import { DialogFrame, formatValue } from "../../ui";
import { ContextChoice } from "./ContextChoice";
import { toggleOverlap, useOverlapOpen } from "./contextStore";
import { playInContext } from "./play";

const SMALL =
  "inline-flex min-h-6 items-center gap-1 rounded-control border border-line-strong bg-sheet px-2 text-[12px] hover:bg-band";

/** While In context is on: which try-out, how loud the others, and where they overlap. */
export function ContextStrip() {
  const on = useContext((state) => state.on);
  const document = useTryOut((state) => state.document);
  const opened = useTryOut((state) => state.opened);
  const { playing, loading, problem } = useLoop();
  const overlap = useOverlapOpen((state) => state.open);
  const [choosing, setChoosing] = useState(false);
  const [failed, setFailed] = useState<string | null>(null);
  const open = useOpener();
  const goTo = async (id: number) => {
    stopLoop();
    setChoosing(false);
    setFailed(null);
    try {
      await open(id);
      playInContext();
    } catch (error) {
      setFailed(errorText(error));
    }
  };
  if (!on || !document || !opened) return null;
  return (
    <section
      aria-label="In context"
      className="col-span-full flex min-h-9 flex-wrap items-center gap-2 border-t border-line-strong bg-band px-3.5 py-1 text-[12.5px]"
    >
      <button type="button" className={SMALL} onClick={playInContext}>
        {playing ? <Square size={11} aria-hidden /> : <Play size={12} aria-hidden />}
        {playing ? "Stop the loop" : "Play the loop"}
      </button>
      <span>
        in{" "}
        <Link to={`/tryout/${opened.id}`} className="font-semibold underline">
          {document.name}
        </Link>
      </span>
      <button type="button" className={SMALL} onClick={() => setChoosing(true)}>
        Another…
      </button>
      <InPlaceOf />
      <Balance />
      <button
        type="button"
        aria-pressed={overlap}
        className={overlap ? `${SMALL} border-ink bg-ink! text-sheet` : SMALL}
        onClick={toggleOverlap}
      >
        Overlap
      </button>
      <UndoTryOut />
      {loading && loading.done < loading.of && (
        <span role="status" className="figure text-[11px] text-ink-2">
          rendering {loading.done} of {loading.of}
        </span>
      )}
      {(problem ?? failed) && (
        <span role="alert" className="text-bad">
          {problem ?? failed}
        </span>
      )}
      <DialogFrame
        open={choosing}
        onClose={() => setChoosing(false)}
        title="Hear it in context"
        wide
      >
        <ContextChoice onChoose={(id) => void goTo(id)} />
      </DialogFrame>
    </section>
  );
}

/** In whose place a sound stands that the try-out does not hold. */
function InPlaceOf() {
  const document = useTryOut((state) => state.document);
  const soundId = useBench((state) => state.opened?.id ?? 0);
  const inPlaceOf = useContext((state) => state.inPlaceOf);
  if (!document || partsOfSound(document, soundId).length > 0) return null;
  const parts = document.parts.filter(({ plays }) => plays.kind !== "bed");
  return (
    <label className="inline-flex items-center gap-1.5">
      in place of
      <select
        className="h-6 rounded-sm border border-line-strong bg-sheet px-1"
        value={inPlaceOf ?? parts[0]?.id ?? ""}
        onChange={(event) => useContext.setState({ inPlaceOf: event.target.value })}
      >
        {parts.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

/** The Bench's own undo is of the sound; this one is of what was taken for the try-out. */
function UndoTryOut() {
  const last = useTryOut((state) => state.past.at(-1)?.label);
  if (last === undefined) return null;
  return (
    <button
      type="button"
      className={`${SMALL} max-w-[260px]`}
      title={`Undo in the try-out: ${last}`}
      onClick={undoTryOut}
    >
      <Undo2 size={12} aria-hidden className="shrink-0" />
      <span className="truncate">Undo: {last}</span>
    </button>
  );
}

function Balance() {
  const othersDb = useContext((state) => state.othersDb);
  return (
    <label className="inline-flex items-center gap-1.5" title="How loud the other parts are">
      Others
      <input
        type="range"
        min={-36}
        max={12}
        step={1}
        value={othersDb}
        aria-valuetext={formatValue(othersDb, "dB")}
        className="w-24 accent-[var(--ink)]"
        onChange={(event) => useContext.setState({ othersDb: Number(event.target.value) })}
      />
      <span className="figure w-14">{formatValue(othersDb, "dB")}</span>
    </label>
  );
}
