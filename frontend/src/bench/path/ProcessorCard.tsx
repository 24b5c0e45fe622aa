import { ChevronLeft, ChevronRight, Ear, X } from "lucide-react";
import type { Processor } from "../../api";
import { formatValue } from "../../ui";
import {
  type ChainRef,
  withoutProcessor,
  processorName,
  edit,
  select,
  useBench,
  listenAt,
  switchProcessor,
} from "../../sound";
import { dragSource } from "./dragging";
import { gist } from "./gist";
import { ProcessorPicture } from "./ProcessorPicture";
import { moveProcessor } from "./reordering";
import { SendMark } from "./SendMark";

export const shownLevel = (level: number | undefined) =>
  level === undefined ? "" : level <= -120 ? "silent" : formatValue(level, "dB");

interface CardProps {
  part: Processor;
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
  const { part, chain, index, count, level, loudness, changeDb } = props;
  const selected = useBench(
    ({ selection }) => selection.kind === "processor" && selection.id === part.id,
  );
  const heard = useBench((state) => state.listenAt === part.id);
  const name = processorName(part.kind);
  const move = (places: number) =>
    moveProcessor(part.id, chain, places < 0 ? index - 1 : index + 2);
  const remove = () => {
    edit(`${name} removed`, (sound) => withoutProcessor(sound, part.id));
    select({ kind: "main" });
  };
  const idle = part.on && changeDb !== undefined && changeDb < 0.1;
  return (
    <div
      data-processor={part.id}
      {...dragSource("processor", part.id)}
      className={`group/card w-[124px] shrink-0 cursor-grab rounded-card border bg-sheet px-2 pt-1 pb-1.5 ${selected ? "border-ink shadow-[inset_0_0_0_1px_var(--ink)]" : "border-line-strong"} ${idle ? "opacity-60" : ""}`}
    >
      <div className="flex items-center">
        <button
          type="button"
          title={name}
          className="min-h-6 min-w-0 flex-1 truncate text-left text-[12px] font-semibold"
          onClick={() => select({ kind: "processor", id: part.id })}
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
        <ProcessorPicture processor={part} width={106} height={44} />
      </button>
      <p className="figure mt-1 flex justify-between text-[10.5px] whitespace-nowrap text-ink-2">
        <span>{gist(part)}</span>
        <span
          title={`Peak after this step${loudness === undefined ? "" : `, loudness ${loudness.toFixed(1)} LUFS`}`}
        >
          {!part.on ? "off" : idle ? "no change" : shownLevel(level)}
        </span>
      </p>
      <div className="flex justify-between text-ink-3">
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
        <CardButton label={`Remove ${name}`} onPress={remove} Icon={X} />
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
