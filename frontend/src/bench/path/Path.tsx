import { Plus, Power, Scale } from "lucide-react";
import type { Bus, Sound } from "../../api";
import { formatValue } from "../../ui";
import {
  type ChainPlace,
  chainPlaces,
  select,
  type Selection,
  useBench,
  toggleEffects,
  toggleMatching,
} from "../../sound";
import { MoverList } from "../movers";
import { BusCard } from "./BusCard";
import { ChainRow } from "./ChainRow";
import { useRouteDrop } from "./dropRoute";
import { shownLevel } from "./ProcessorCard";
import { addBus, canAddBus } from "./RouteMenu";
import { Sources } from "./Sources";

/** From the sources through buses and chains to the output, with the level after each step. */
export function Path() {
  const sound = useBench((state) => state.document);
  const selection = useBench((state) => state.selection);
  if (!sound) return null;
  const places = chainPlaces(sound);
  const atHand = ownersAtHand(sound, selection, places);
  const layer = sound.layers.find(({ id }) => atHand.includes(id));
  const own = places.find(({ ref }) => ref === layer?.id);
  const main = places.find(({ ref }) => ref === "main");
  return (
    <section aria-label="Path" className="flex min-w-0 flex-1 gap-3 overflow-x-auto px-3.5 py-2.5">
      <Sources sound={sound} />
      <MoverList sound={sound} />
      {own && (
        <WithBranches sound={sound} place={own} places={places} title={`Chain of ${own.name}`} />
      )}
      <Buses sound={sound} shown={(bus) => atHand.includes(bus.id)} places={places} />
      {main && (
        <WithBranches sound={sound} place={main} places={places} title="Main chain">
          <MainOutput sound={sound} />
        </WithBranches>
      )}
    </section>
  );
}

interface BranchesProps {
  sound: Sound;
  place: ChainPlace;
  places: ChainPlace[];
  title: string;
  children?: React.ReactNode;
}

/** A chain with the branches of its forks behind it, one after the other. */
function WithBranches({ sound, place, places, title, children }: BranchesProps) {
  const forks = place.chain.filter(({ kind }) => kind === "fork").map(({ id }) => id);
  const inner = places.filter(({ fork }) => fork !== undefined && forks.includes(fork));
  return (
    <>
      <ChainRow sound={sound} place={place} title={title}>
        {inner.length === 0 ? children : null}
      </ChainRow>
      {inner.map((branch) => (
        <WithBranches
          key={branch.ref}
          sound={sound}
          place={branch}
          places={places}
          title={`Branch ${branchName(branch, place)}`}
        />
      ))}
      {inner.length > 0 && children && <div className="flex flex-col pt-[22px]">{children}</div>}
    </>
  );
}

const branchName = (branch: ChainPlace, outer: ChainPlace) =>
  branch.name.startsWith(`${outer.name} `) ? branch.name.slice(outer.name.length + 1) : branch.name;

/** Layers and buses whose chains are shown: the selected one, and the way that it goes. */
function ownersAtHand(sound: Sound, selection: Selection, places: ChainPlace[]): string[] {
  if (["main", "pitch", "notes"].includes(selection.kind) || !("id" in selection)) return [];
  const parts =
    selection.kind === "mover"
      ? sound.links
          .filter(({ mover }) => mover === selection.id)
          .map(({ target }) => target.split(".")[0] ?? "")
      : [selection.id];
  const owners = places
    .filter(
      ({ owner, chain }) => parts.includes(owner) || chain.some(({ id }) => parts.includes(id)),
    )
    .map(({ owner }) => owner);
  for (let n = 0; n < owners.length; n += 1) {
    const to = [...sound.layers, ...sound.buses].find(({ id }) => id === owners[n])?.to;
    if (to && !owners.includes(to)) owners.push(to);
  }
  return owners;
}

interface BusesProps {
  sound: Sound;
  shown: (bus: Bus) => boolean;
  places: ChainPlace[];
}

function Buses({ sound, shown, places }: BusesProps) {
  const rows = places.filter(({ ref, owner }) => {
    const bus = sound.buses.find(({ id }) => id === owner);
    return bus && shown(bus) && (ref === owner || bus.split);
  });
  return (
    <>
      {rows.map((place) => (
        <WithBranches
          key={place.ref}
          sound={sound}
          place={place}
          places={places}
          title={`Chain of ${place.name}`}
        />
      ))}
      <div className="flex flex-col">
        <h3 className="mb-1 flex h-[18px] items-center gap-1 text-[12px] font-semibold text-ink-2">
          Buses
          <button
            type="button"
            aria-label="Add bus"
            title="Add a bus: its layers share one chain"
            disabled={!canAddBus(sound)}
            className="grid size-6 place-items-center rounded-sm text-action hover:bg-panel disabled:opacity-40"
            onClick={() => addBus(sound)}
          >
            <Plus size={13} aria-hidden />
          </button>
        </h3>
        <div className="flex gap-2">
          {sound.buses.map((bus) => (
            <BusCard key={bus.id} sound={sound} bus={bus} />
          ))}
        </div>
      </div>
    </>
  );
}

function MainOutput({ sound }: { sound: Sound }) {
  const selected = useBench(({ selection }) => selection.kind === "main");
  const peak = useBench((state) => state.audition?.measures.peak_db);
  const dry = useBench((state) => state.effectsOff);
  const matching = useBench((state) => state.matchSwitched);
  const { over, handlers } = useRouteDrop("main");
  const border = over ? "border-action" : selected ? "border-ink" : "border-line-strong";
  return (
    <div
      {...handlers}
      className={`flex h-[110px] w-[112px] shrink-0 flex-col rounded-card border bg-panel px-2 pt-1 pb-1 ${border}`}
    >
      <button
        type="button"
        onClick={() => select({ kind: "main" })}
        className="min-h-6 flex-1 text-left"
      >
        <span className="block font-semibold">Output</span>
        <span className="figure block text-[10.5px] text-ink-2">
          level {formatValue(sound.main.level_db, "dB")}
        </span>
        <span className="figure block text-[10.5px] text-ink-2">peak {shownLevel(peak)}</span>
      </button>
      <button
        type="button"
        aria-pressed={dry}
        title="Bypass all effects (Shift B)"
        onClick={toggleEffects}
        className={`inline-flex min-h-6 items-center gap-1 rounded-sm px-0.5 text-[11px] whitespace-nowrap ${dry ? "bg-warn text-sheet" : "hover:bg-band"}`}
      >
        <Power size={12} aria-hidden /> Bypass effects
      </button>
      <button
        type="button"
        aria-pressed={matching}
        title="Bypassed and active states play at the same loudness"
        onClick={toggleMatching}
        className={`inline-flex min-h-6 items-center gap-1 rounded-sm px-0.5 text-[11px] whitespace-nowrap ${matching ? "bg-action text-sheet" : "hover:bg-band"}`}
      >
        <Scale size={12} aria-hidden /> Level-matched
      </button>
    </div>
  );
}
