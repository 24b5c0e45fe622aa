import { ChevronLeft, ChevronRight, X } from "lucide-react";
import type { Processor } from "../api/types";
import { formatValue } from "../ui/units";
import { chainOf, movedInChain, withChain, withProcessor } from "./edits";
import { ProcessorPicture } from "./ProcessorPicture";
import { PROCESSOR_NAMES } from "./processorNames";
import { edit, select, useBench } from "./store";

export const shownLevel = (level: number | undefined) =>
  level === undefined ? "" : level <= -120 ? "silent" : formatValue(level, "dB");

interface CardProps {
  part: Processor;
  owner: string | null;
  index: number;
  count: number;
  level: number | undefined;
}

/** A processor in a chain: its picture, the level after it, and its place. */
export function ProcessorCard({ part, owner, index, count, level }: CardProps) {
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
      withChain(sound, movedInChain(chainOf(sound, owner), part.id, places), owner),
    );
  const remove = () => {
    edit(`${name} removed`, (sound) =>
      withChain(
        sound,
        chainOf(sound, owner).filter(({ id }) => id !== part.id),
        owner,
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
        <span>{gist(part)}</span>
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

/** The one number that says most of a processor. */
function gist(part: Processor): string {
  switch (part.kind) {
    case "filter":
      return formatValue(part.cutoff_hz, "Hz");
    case "drive":
      return formatValue(part.drive_db, "dB");
    case "comb":
      if (!part.follows_note) return formatValue(part.frequency_hz, "Hz");
      return part.transpose_st === 0 ? "note" : formatValue(part.transpose_st, "st");
  }
}
