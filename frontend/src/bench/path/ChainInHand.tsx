import type { Bus, Sound } from "../../api";
import { chainPlaces, edit, listenAt, useBench, withBus } from "../../sound";
import { PIGMENTS } from "../../ui";
import { Ear } from "lucide-react";
import { comingTo } from "./BusFields";
import { ChainRow } from "./ChainRow";
import { CardButton, shownLevel } from "./ProcessorCard";
import { RouteMenu } from "./RouteMenu";
import { SendMark } from "./SendMark";

/** The chain of a layer, a bus or the main output in full, with what comes to it and where it goes. */
export function ChainInHand({ sound, owner }: { sound: Sound; owner: string }) {
  const layer = sound.layers.find(({ id }) => id === owner);
  const bus = sound.buses.find(({ id }) => id === owner);
  const places = chainPlaces(sound).filter(
    (place) =>
      place.owner === owner && place.fork === undefined && (place.ref === owner || bus?.split),
  );
  const part = layer ?? bus;
  return (
    <div className="flex min-w-0 flex-1 flex-col gap-1 overflow-y-auto px-3 pb-2">
      <div className="flex min-h-6 flex-wrap items-center gap-x-2 text-[11.5px] text-ink-2">
        {layer && (
          <span aria-hidden style={{ color: PIGMENTS[layer.pigment].colour }}>
            {PIGMENTS[layer.pigment].glyph}
          </span>
        )}
        <span className="font-title text-[13px] font-semibold text-ink">
          {part?.name ?? "Main"}
        </span>
        <Coming sound={sound} owner={owner} />
        {part && (
          <span className="inline-flex items-center">
            to <RouteMenu sound={sound} part={part} />
          </span>
        )}
        <SendMark source={owner} />
        {bus && <BusSwitches bus={bus} />}
      </div>
      {places.map((place) => (
        <ChainRow
          key={place.ref}
          sound={sound}
          place={place}
          title={place.ref === "main" ? "Main chain" : `Chain of ${place.name}`}
          label={places.length > 1 ? place.name : null}
        />
      ))}
    </div>
  );
}

/** What is summed before the chain. */
function Coming({ sound, owner }: { sound: Sound; owner: string }) {
  if (sound.layers.some(({ id }) => id === owner)) return <span>layer</span>;
  const coming = comingTo(sound, owner).map(({ name }) => name);
  const kind = owner === "main" ? "chain" : "bus";
  if (coming.length === 0) return <span>{kind}, nothing comes to it: drag a layer onto it</span>;
  return (
    <span className="max-w-[340px] truncate" title={coming.join(", ")}>
      {kind} of {coming.join(", ")}
    </span>
  );
}

function BusSwitches({ bus }: { bus: Bus }) {
  const level = useBench((state) => state.audition?.levels_db[bus.id]);
  const heard = useBench((state) => state.listenAt === bus.id);
  const mute = () =>
    edit(`${bus.name}: mute ${bus.mute ? "off" : "on"}`, (now) =>
      withBus(now, bus.id, (one) => ({ ...one, mute: !one.mute })),
    );
  return (
    <>
      {bus.each_note && <span>each note apart</span>}
      <button
        type="button"
        aria-label={`Mute ${bus.name}`}
        aria-pressed={bus.mute}
        onClick={mute}
        className={`size-6 rounded-sm border text-[11px] font-semibold ${bus.mute ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet"}`}
      >
        M
      </button>
      <span className="figure text-[10.5px]">{shownLevel(level)}</span>
      <CardButton
        label={`Listen after ${bus.name}`}
        pressed={heard}
        onPress={() => listenAt(bus.id)}
        Icon={Ear}
      />
    </>
  );
}
