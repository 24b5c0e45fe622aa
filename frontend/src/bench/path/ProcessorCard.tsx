import { ChevronLeft, ChevronRight, Ear, X } from "lucide-react";
import type { Processor } from "../../api";
import { formatValue } from "../../ui";
import {
  type ChainRef,
  listenAt,
  removeProcessor,
  select,
  switchProcessor,
  useBench,
} from "../../sound";
import { dragSource } from "./dragging";
import { gist, ProcessorPicture } from "./picture";
import { moveProcessor } from "./reordering";
import { SendMark } from "./SendMark";

export const shownLevel = (level: number | undefined) =>
  level === undefined ? "" : level <= -120 ? "silent" : formatValue(level, "dB");

interface CardProps {
  part: Processor;
  /** What it is called in its chain. */
  name: string;
  chain: ChainRef;
  index: number;
  count: number;
  level: number | undefined;
  /** Loudness after it, in LUFS. */
  loudness: number | undefined;
  /** By how much it changes the sound, where that was measured. */
  changeDb: number | undefined;
}

/** A processor in a chain: its picture, the level after it, and its place. */
export function ProcessorCard(props: CardProps) {
  const { part, name, chain, index, count, level, loudness, changeDb } = props;
  const selected = useBench(
    ({ selection }) => selection.kind === "processor" && selection.id === part.id,
  );
  const heard = useBench((state) => state.listenAt === part.id);
  const move = (places: number) =>
    moveProcessor(part.id, chain, places < 0 ? index - 1 : index + 2);
  const keys = (event: React.KeyboardEvent) => {
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (step !== undefined && event.altKey) move(step);
    else if (step !== undefined) focusBeside(event.currentTarget, step);
    else if (event.key === "Delete") removeProcessor(part.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const idle = part.on && changeDb !== undefined && changeDb < 0.1;
  return (
    <div
      data-processor={part.id}
      {...dragSource("processor", part.id)}
      className={`group/card relative w-[122px] shrink-0 cursor-grab rounded-card border bg-sheet px-1.5 pb-1 ${selected ? "border-ink shadow-[inset_0_0_0_1px_var(--ink)]" : "border-line-strong"} ${idle ? "opacity-60" : ""}`}
    >
      <div className="flex items-center">
        <button
          type="button"
          data-card
          title={`${name}: arrow keys go to the next, with Alt they move it`}
          className="min-h-6 min-w-0 flex-1 truncate text-left text-[12px] font-semibold"
          onClick={() => select({ kind: "processor", id: part.id })}
          onKeyDown={keys}
        >
          {name}
        </button>
        <SendMark source={part.id} />
        <button
          type="button"
          aria-label={`${name} on`}
          aria-pressed={part.on}
          title={part.on ? "Switch off (B)" : "Switch on (B)"}
          onClick={() => switchProcessor(part.id)}
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
        <ProcessorPicture processor={part} width={108} height={40} />
      </button>
      <p className="figure mt-0.5 flex justify-between gap-1 overflow-hidden text-[10px] whitespace-nowrap text-ink-2">
        <span className="truncate">{gist(part)}</span>
        <span
          className="shrink-0"
          title={`Peak after this step${loudness === undefined ? "" : `, loudness ${loudness.toFixed(1)} LUFS`}`}
        >
          {!part.on ? "off" : idle ? "no change" : shownLevel(level)}
        </span>
      </p>
      <div
        className={`absolute inset-x-1 bottom-px flex justify-between rounded-sm bg-sheet text-ink-2 opacity-0 group-focus-within/card:opacity-100 group-hover/card:opacity-100 ${heard ? "opacity-100" : ""}`}
      >
        <CardButton
          label={`Move ${name} left`}
          disabled={index === 0}
          onPress={() => move(-1)}
          Icon={ChevronLeft}
        />
        <CardButton
          label={`Listen after ${name}`}
          pressed={heard}
          onPress={() => listenAt(part.id)}
          Icon={Ear}
        />
        <CardButton label={`Remove ${name}`} onPress={() => removeProcessor(part.id)} Icon={X} />
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

/** The keyboard goes to the card before or after this one, wherever the row breaks. */
function focusBeside(card: Element, step: number): void {
  const all = [...(card.closest("section")?.querySelectorAll<HTMLElement>("[data-card]") ?? [])];
  const next = all[all.findIndex((one) => one === card) + step];
  next?.focus();
  next?.click();
}

interface CardButtonProps {
  label: string;
  disabled?: boolean;
  pressed?: boolean;
  onPress: () => void;
  Icon: typeof X;
}

export function CardButton({ label, disabled = false, pressed, onPress, Icon }: CardButtonProps) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={pressed}
      title={label}
      disabled={disabled}
      onClick={onPress}
      className={`grid size-6 place-items-center rounded-sm disabled:opacity-25 ${pressed ? "bg-action text-sheet" : "hover:bg-band"}`}
    >
      <Icon size={13} aria-hidden />
    </button>
  );
}
