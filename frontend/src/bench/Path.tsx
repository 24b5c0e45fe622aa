import { ChevronLeft, ChevronRight, Plus, X } from "lucide-react";
import type { Processor, Sound } from "../api/types";
import { ActionMenu } from "../ui/ActionMenu";
import { PIGMENTS } from "../ui/pigments";
import { formatValue } from "../ui/units";
import { movedInChain, newProcessor, withChain, withProcessor } from "./edits";
import { PROCESSOR_NAMES } from "./Inspector";
import { ProcessorPicture } from "./ProcessorPicture";
import { edit, select, useBench } from "./store";

const KINDS: Processor["kind"][] = ["filter", "drive"];

/** From the sources through the main chain to the output, with the level after each step. */
export function Path() {
  const sound = useBench((state) => state.document);
  const levels = useBench((state) => state.audition?.levels_db);
  if (!sound) return null;
  const add = (kind: Processor["kind"]) => {
    const part = newProcessor(sound, kind);
    edit(`${PROCESSOR_NAMES[kind]} added to main`, (now) =>
      withChain(now, [...now.main.chain, part]),
    );
    select({ kind: "processor", id: part.id });
  };
  return (
    <section aria-label="Path" className="flex min-w-0 flex-1 gap-3 overflow-x-auto px-3.5 py-2.5">
      <Sources sound={sound} levels={levels} />
      <div className="flex flex-col">
        <h3 className="mb-1 text-[12px] font-semibold text-ink-2">Main chain</h3>
        <div className="flex items-start gap-2">
          {sound.main.chain.map((part, index) => (
            <Card
              key={part.id}
              part={part}
              index={index}
              count={sound.main.chain.length}
              level={levels?.[part.id]}
            />
          ))}
          <AddProcessor onAdd={add} />
          <MainOutput sound={sound} />
        </div>
      </div>
    </section>
  );
}

const shownLevel = (level: number | undefined) =>
  level === undefined ? "" : level <= -120 ? "silent" : formatValue(level, "dB");

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

interface CardProps {
  part: Processor;
  index: number;
  count: number;
  level: number | undefined;
}

function Card({ part, index, count, level }: CardProps) {
  const selected = useBench(
    ({ selection }) => selection.kind === "processor" && selection.id === part.id,
  );
  const name = PROCESSOR_NAMES[part.kind];
  const toggle = () =>
    edit(`${name} ${part.on ? "off" : "on"}`, (sound) =>
      withProcessor(sound, part.id, (now) => ({ ...now, on: !now.on })),
    );
  const move = (places: number) =>
    edit(`${name} moved`, (sound) =>
      withChain(sound, movedInChain(sound.main.chain, part.id, places)),
    );
  const remove = () => {
    edit(`${name} removed`, (sound) =>
      withChain(
        sound,
        sound.main.chain.filter(({ id }) => id !== part.id),
      ),
    );
    select({ kind: "main" });
  };
  return (
    <div
      data-processor={part.id}
      className={`group/card w-[124px] shrink-0 rounded-card border bg-sheet px-2 pt-1 pb-1.5 ${selected ? "border-ink shadow-[inset_0_0_0_1px_var(--ink)]" : "border-line-strong"}`}
    >
      <div className="flex items-center">
        <button
          type="button"
          className="min-h-6 flex-1 text-left font-semibold"
          onClick={() => select({ kind: "processor", id: part.id })}
        >
          {name}
        </button>
        <button
          type="button"
          aria-label={`${name} on`}
          aria-pressed={part.on}
          title={part.on ? "Switch off (B)" : "Switch on (B)"}
          onClick={toggle}
          className="grid size-6 place-items-center"
        >
          <span
            className={`size-2.5 rounded-full border ${part.on ? "border-good bg-good" : "border-ink-3"}`}
          />
        </button>
      </div>
      <button
        type="button"
        aria-label={`Select ${name}`}
        tabIndex={-1}
        className="block w-full rounded-sm bg-panel"
        onClick={() => select({ kind: "processor", id: part.id })}
      >
        <ProcessorPicture processor={part} width={106} height={44} />
      </button>
      <p className="figure mt-1 flex justify-between text-[10.5px] text-ink-2">
        <span>
          {part.kind === "filter"
            ? formatValue(part.cutoff_hz, "Hz")
            : formatValue(part.drive_db, "dB")}
        </span>
        <span title="Peak after this step">{part.on ? shownLevel(level) : "off"}</span>
      </p>
      <div className="flex justify-between text-ink-3">
        <CardButton
          label={`Move ${name} left`}
          disabled={index === 0}
          onPress={() => move(-1)}
          Icon={ChevronLeft}
        />
        <CardButton label={`Remove ${name}`} disabled={false} onPress={remove} Icon={X} />
        <CardButton
          label={`Move ${name} right`}
          disabled={index === count - 1}
          onPress={() => move(1)}
          Icon={ChevronRight}
        />
      </div>
    </div>
  );
}

interface CardButtonProps {
  label: string;
  disabled: boolean;
  onPress: () => void;
  Icon: typeof X;
}

function CardButton({ label, disabled, onPress, Icon }: CardButtonProps) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onPress}
      className="grid size-6 place-items-center rounded-sm hover:bg-band disabled:opacity-25"
    >
      <Icon size={13} aria-hidden />
    </button>
  );
}

function AddProcessor({ onAdd }: { onAdd: (kind: Processor["kind"]) => void }) {
  return (
    <ActionMenu
      label="Add processor"
      title="Add processor"
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
