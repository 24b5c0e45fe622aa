import { Plus } from "lucide-react";
import { Fragment, useState } from "react";
import type { Sound } from "../../api";
import { select, type Selection, useBench, type ChainPlace } from "../../sound";
import { openFinder } from "../parts";
import { ChainMenu } from "./ChainMenu";
import { endDrag, useDragging } from "./dragging";
import { ProcessorCard } from "./ProcessorCard";
import { hearBothOrders, moveProcessor, useReordered } from "./reordering";

interface Props {
  sound: Sound;
  place: ChainPlace;
  title: string;
  /** What stands at the chain's end. */
  children?: React.ReactNode;
}

/** A chain with its processors side by side; processors of any chain can be dropped into it. */
export function ChainRow({ sound, place, title, children }: Props) {
  const { ref, name, chain } = place;
  const levels = useBench((state) => state.audition?.levels_db);
  const loudness = useBench((state) => state.details?.loudness_lufs);
  const parts = useBench((state) =>
    state.contributions?.document === state.document ? state.contributions?.parts : undefined,
  );
  const { gap, handlers } = useDrop(ref, chain.length);
  const add = () => {
    select(inHand(sound, place));
    openFinder({ mode: "processor" });
  };
  return (
    <div className="flex flex-col" role="group" aria-label={title}>
      <h3 className="mb-1 flex h-[18px] items-center gap-2 text-[12px] font-semibold whitespace-nowrap text-ink-2">
        {title} <ChainMenu place={place} /> <Orders sound={sound} chain={ref} />
      </h3>
      <div className="flex items-start gap-2" {...handlers}>
        {chain.map((part, index) => (
          <Fragment key={part.id}>
            {gap === index && <Gap />}
            <ProcessorCard
              part={part}
              chain={ref}
              index={index}
              count={chain.length}
              level={levels?.[part.id]}
              loudness={loudness?.[part.id]}
              changeDb={
                parts?.find((one) => one.kind === "processor" && one.id === part.id)?.change_db
              }
            />
          </Fragment>
        ))}
        {gap === chain.length && <Gap />}
        <button
          type="button"
          aria-label={ref === "main" ? "Add processor" : `Add processor to ${name}`}
          title={`Add a processor to ${name} (/)`}
          className="grid h-[110px] w-9 place-items-center rounded-card border border-dashed border-line-strong text-ink-2 hover:bg-panel"
          onClick={add}
        >
          <Plus size={16} aria-hidden />
        </button>
        {children}
      </div>
    </div>
  );
}

/** What to select so that a processor comes at the end of a chain. */
function inHand(sound: Sound, { ref, owner, chain }: ChainPlace): Selection {
  const last = chain.at(-1);
  if (last) return { kind: "processor", id: last.id };
  if (sound.layers.some(({ id }) => id === ref)) return { kind: "layer", id: ref };
  return owner === "main" ? { kind: "main" } : { kind: "bus", id: ref };
}

/** After a change of the order: hear the one before and the one now. */
function Orders({ sound, chain }: { sound: Sound; chain: string }) {
  const last = useReordered((state) => state.last);
  if (last?.after !== sound || last.ref !== chain) return null;
  return (
    <button
      type="button"
      className="min-h-6 rounded-sm px-1 text-[11.5px] font-normal text-action hover:bg-panel"
      title="Plays the previous and the current order"
      onClick={() => void hearBothOrders(last)}
    >
      {last.words ?? "hear both orders"}
    </button>
  );
}

const Gap = () => <span aria-hidden className="h-[110px] w-1 shrink-0 rounded-full bg-action" />;

/** Between which cards the pointer is, while a processor is dragged over a chain. */
function useDrop(ref: string, count: number) {
  const dragged = useDragging((state) => state.dragged);
  const [gap, setGap] = useState<number | null>(null);
  const taking = dragged?.kind === "processor";
  const gapAt = (event: React.DragEvent) => {
    const cards = [...event.currentTarget.querySelectorAll("[data-processor]")];
    const after = cards.findIndex((card) => {
      const box = card.getBoundingClientRect();
      return event.clientX < box.left + box.width / 2;
    });
    return after < 0 ? count : after;
  };
  return {
    gap: taking ? gap : null,
    handlers: {
      onDragOver: (event: React.DragEvent) => {
        if (!taking) return;
        event.preventDefault();
        setGap(gapAt(event));
      },
      onDragLeave: () => setGap(null),
      onDrop: (event: React.DragEvent) => {
        if (!taking) return;
        event.preventDefault();
        const index = gapAt(event);
        moveProcessor(dragged.id, ref, index);
        select({ kind: "processor", id: dragged.id });
        setGap(null);
        endDrag();
      },
    },
  };
}
