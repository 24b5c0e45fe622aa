import { Plus } from "lucide-react";
import type { Layer, Processor, Sound } from "../api/types";
import { ActionMenu } from "../ui/ActionMenu";
import { PIGMENTS } from "../ui/pigments";
import { formatValue } from "../ui/units";
import { chainOf, newProcessor, withChain } from "./edits";
import { MoverList } from "./movers/MoverList";
import { PROCESSOR_NAMES } from "./processorNames";
import { ProcessorCard, shownLevel } from "./ProcessorCard";
import { edit, select, type Selection, useBench } from "./store";

const KINDS: Processor["kind"][] = ["filter", "drive", "comb"];

/** From the sources through the main chain to the output, with the level after each step. */
export function Path() {
  const sound = useBench((state) => state.document);
  const levels = useBench((state) => state.audition?.levels_db);
  const selection = useBench((state) => state.selection);
  if (!sound) return null;
  const layer = layerAtHand(sound, selection);
  return (
    <section aria-label="Path" className="flex min-w-0 flex-1 gap-3 overflow-x-auto px-3.5 py-2.5">
      <Sources sound={sound} levels={levels} />
      <MoverList sound={sound} />
      {layer && <ChainRow sound={sound} layer={layer} levels={levels} />}
      <ChainRow sound={sound} layer={null} levels={levels} />
    </section>
  );
}

/** Whose chain is shown: the selected layer's, or that of a selected processor or mover in it. */
function layerAtHand(sound: Sound, selection: Selection): Layer | undefined {
  if (selection.kind === "main" || selection.kind === "pitch") return undefined;
  const parts =
    selection.kind === "mover"
      ? sound.links
          .filter(({ mover }) => mover === selection.id)
          .map(({ target }) => target.split(".")[0])
      : [selection.id];
  return sound.layers.find(
    ({ id, chain }) => parts.includes(id) || chain.some((part) => parts.includes(part.id)),
  );
}

interface ChainRowProps {
  sound: Sound;
  /** Whose chain; the main output's where null. */
  layer: Layer | null;
  levels: Record<string, number> | undefined;
}

function ChainRow({ sound, layer, levels }: ChainRowProps) {
  const owner = layer?.id ?? null;
  const chain = chainOf(sound, owner);
  const name = layer?.name ?? "main";
  const add = (kind: Processor["kind"]) => {
    const part = newProcessor(sound, kind);
    edit(`${PROCESSOR_NAMES[kind]} added to ${name}`, (now) =>
      withChain(now, [...chainOf(now, owner), part], owner),
    );
    select({ kind: "processor", id: part.id });
  };
  return (
    <div className="flex flex-col">
      <h3 className="mb-1 text-[12px] font-semibold text-ink-2">
        {layer ? `Chain of ${layer.name}` : "Main chain"}
      </h3>
      <div className="flex items-start gap-2">
        {chain.map((part, index) => (
          <ProcessorCard
            key={part.id}
            part={part}
            owner={owner}
            index={index}
            count={chain.length}
            level={levels?.[part.id]}
          />
        ))}
        <AddProcessor name={name} onAdd={add} />
        {!layer && <MainOutput sound={sound} />}
      </div>
    </div>
  );
}

function Sources({ sound, levels }: { sound: Sound; levels: Record<string, number> | undefined }) {
  const selection = useBench((state) => state.selection);
  return (
    <div className="w-[150px] shrink-0">
      <h3 className="mb-1 text-[12px] font-semibold text-ink-2">Layers</h3>
      <div className="grid max-h-[132px] gap-1 overflow-y-auto">
        {sound.layers.map(({ id, name, pigment }) => (
          <button
            key={id}
            type="button"
            onClick={() => select({ kind: "layer", id })}
            className={`flex min-h-7 items-center gap-1.5 rounded-control border bg-sheet px-2 text-left ${selection.kind === "layer" && selection.id === id ? "border-ink" : "border-line-strong"}`}
          >
            <span aria-hidden style={{ color: PIGMENTS[pigment].colour }}>
              {PIGMENTS[pigment].glyph}
            </span>
            <span className="min-w-0 flex-1 truncate">{name}</span>
            <span className="figure text-[10.5px] text-ink-2">{shownLevel(levels?.[id])}</span>
          </button>
        ))}
      </div>
    </div>
  );
}

interface AddProcessorProps {
  name: string;
  onAdd: (kind: Processor["kind"]) => void;
}

function AddProcessor({ name, onAdd }: AddProcessorProps) {
  return (
    <ActionMenu
      label={name === "main" ? "Add processor" : `Add processor to ${name}`}
      title={`Add a processor to ${name}`}
      className="grid h-[110px] w-9 place-items-center rounded-card border border-dashed border-line-strong text-ink-2 hover:bg-panel"
      anchor="top start"
      actions={KINDS.map((kind) => ({ label: PROCESSOR_NAMES[kind], act: () => onAdd(kind) }))}
    >
      <Plus size={16} aria-hidden />
    </ActionMenu>
  );
}

function MainOutput({ sound }: { sound: Sound }) {
  const selected = useBench(({ selection }) => selection.kind === "main");
  const peak = useBench((state) => state.audition?.measures.peak_db);
  return (
    <button
      type="button"
      onClick={() => select({ kind: "main" })}
      className={`h-[110px] w-[112px] rounded-card border bg-panel px-2 text-left ${selected ? "border-ink" : "border-line-strong"}`}
    >
      <span className="block font-semibold">Output</span>
      <span className="figure mt-1 block text-[10.5px] text-ink-2">
        level {formatValue(sound.main.level_db, "dB")}
      </span>
      <span className="figure block text-[10.5px] text-ink-2">peak {shownLevel(peak)}</span>
    </button>
  );
}
