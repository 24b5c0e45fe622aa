import { Plus } from "lucide-react";
import { Fragment } from "react";
import type { Processor, Sound } from "../../api";
import {
  branchesOf,
  chainPlaces,
  type ChainPlace,
  select,
  type Selection,
  useBench,
  nameInChain,
} from "../../sound";
import { formatValue } from "../../ui";
import { openFinder } from "../parts";
import { ChainMenu } from "./ChainMenu";
import { useChainDrop } from "./dropProcessor";
import { ProcessorCard } from "./ProcessorCard";
import { hearBothOrders, useReordered } from "./reordering";
import { SendMark } from "./SendMark";

interface Props {
  sound: Sound;
  place: ChainPlace;
  title: string;
  /** Shown before the cards where several chains stand below each other. */
  label?: string | null;
}

/** A chain with its processors in order, in as many rows as it takes; any can be dropped into it. */
export function ChainRow({ sound, place, title, label = null }: Props) {
  const { ref, name, chain } = place;
  const { gap, handlers } = useChainDrop(ref, chain.length);
  const add = () => {
    select(endOf(sound, place));
    openFinder({ mode: "processor" });
  };
  return (
    <div
      className="flex min-h-9 shrink-0 flex-wrap items-start gap-2"
      role="group"
      aria-label={title}
      {...handlers}
    >
      {label && (
        <span className="w-[58px] shrink-0 pt-2 text-[11px] leading-[14px] font-semibold text-ink-2">
          {label}
        </span>
      )}
      {chain.map((part, index) => (
        <Fragment key={part.id}>
          {gap === index && <Gap />}
          <Step sound={sound} part={part} place={place} index={index} />
        </Fragment>
      ))}
      {gap === chain.length && <Gap />}
      <div className={`flex gap-1 ${chain.length === 0 ? "items-center" : "flex-col"}`}>
        <button
          type="button"
          aria-label={ref === "main" ? "Add processor" : `Add processor to ${name}`}
          title={`Add a processor to ${name} (/)`}
          className="grid h-8 w-9 place-items-center rounded-card border border-dashed border-line-strong text-ink-2 hover:bg-panel"
          onClick={add}
        >
          <Plus size={16} aria-hidden />
        </button>
        <ChainMenu place={place} />
      </div>
      <Orders sound={sound} chain={ref} />
    </div>
  );
}

interface StepProps {
  sound: Sound;
  part: Processor;
  place: ChainPlace;
  index: number;
}

/** A processor's card; of a fork with its branches below each other, summed again behind it. */
function Step({ sound, part, place, index }: StepProps) {
  const level = useBench((state) => state.audition?.levels_db[part.id]);
  const loudness = useBench((state) => state.details?.loudness_lufs[part.id]);
  const changeDb = useBench((state) =>
    state.contributions?.document === state.document
      ? state.contributions?.parts.find((one) => one.kind === "processor" && one.id === part.id)
          ?.change_db
      : undefined,
  );
  const card = (
    <ProcessorCard
      part={part}
      name={nameInChain(place.chain, part)}
      chain={place.ref}
      index={index}
      count={place.chain.length}
      level={level}
      loudness={loudness}
      changeDb={changeDb}
    />
  );
  if (part.kind !== "fork") return <div data-step>{card}</div>;
  return (
    <div
      data-step
      className="flex max-w-full items-stretch gap-2 rounded-card border border-dashed border-ochre p-1"
    >
      {card}
      <div className="flex min-w-0 flex-col justify-around gap-1 border-l border-ochre pl-2">
        <Branches sound={sound} part={part} />
      </div>
    </div>
  );
}

function Branches({ sound, part }: { sound: Sound; part: Processor }) {
  const places = chainPlaces(sound).filter(({ fork }) => fork === part.id);
  const levels = useBench((state) => state.audition?.levels_db);
  return branchesOf(part).map((branch) => {
    const place = places.find(({ ref }) => ref === branch.id);
    if (!place) return null;
    const silent = (levels?.[branch.id] ?? 0) <= -120;
    return (
      <div key={branch.id} className="flex min-w-0 items-center gap-2">
        <span
          className={`w-[58px] shrink-0 text-[11px] leading-[14px] text-ink-2 ${silent ? "opacity-50" : ""}`}
        >
          <span className="block truncate font-semibold" title={branch.name}>
            {branch.name}
          </span>
          <span className="figure block text-[10px]">{formatValue(branch.level_db, "dB")}</span>
          <SendMark source={branch.id} />
        </span>
        <ChainRow sound={sound} place={place} title={`Branch ${branch.name}`} />
      </div>
    );
  });
}

/** What to select so that a processor comes at the end of a chain. */
function endOf(sound: Sound, { ref, owner, chain }: ChainPlace): Selection {
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

const Gap = () => <span aria-hidden className="h-[92px] w-1 shrink-0 rounded-full bg-action" />;
