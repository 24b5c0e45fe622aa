import { X } from "lucide-react";
import type { Bus, Declarations, Sound } from "../../api";
import { NameField, PartFields, Section } from "../parts";
import { ownerOf, withBus, withoutBus, edit, select, useBench } from "../../sound";
import { RouteMenu } from "./RouteMenu";
import { SendList } from "./SendList";

/** The layers and buses that lead to a bus, by their own way or by a send. */
export function comingTo(sound: Sound, id: string): { name: string }[] {
  const parts = [...sound.layers, ...sound.buses];
  const sent = sound.sends.filter((one) => one.on && one.to === id).map(({ source }) => source);
  const senders = new Set(sent.map((source) => ownerOf(sound, source)));
  const found = parts.filter((one) => one.to === id || senders.has(one.id));
  return senders.has("main") ? [...found, { name: "Main" }] : found;
}

interface Props {
  bus: Bus;
  declarations: Declarations;
}

/** A bus as exact numbers: its way, its level, and where it is split. */
export function BusFields({ bus, declarations }: Props) {
  const sound = useBench((state) => state.document);
  if (!sound) return null;
  const coming = comingTo(sound, bus.id);
  const change = (label: string, patch: object, how?: { gesture: string; moving: boolean }) =>
    edit(label, (now) => withBus(now, bus.id, (one) => ({ ...one, ...patch })), how);
  const remove = () => {
    edit(`Bus removed: ${bus.name}`, (now) => withoutBus(now, bus.id));
    select({ kind: "main" });
  };
  const ofParts = (name: string) => ["crossover_hz", "low_db", "high_db"].includes(name);
  return (
    <>
      <h2 className="flex items-center gap-2">
        <NameField
          label="Name of the bus"
          name={bus.name}
          onRename={(name) => change(`${bus.name}: named ${name}`, { name })}
        />
        <span className="text-ink-2">bus</span>
        <button
          type="button"
          aria-label={`Remove ${bus.name}`}
          title="Its layers then go to its destination"
          className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
          onClick={remove}
        >
          <X size={13} aria-hidden />
        </button>
      </h2>
      <p className="mt-1 text-ink-2">
        {coming.length > 0
          ? `Sums ${coming.map(({ name }) => name).join(", ")}.`
          : "No layer goes to it yet: drag one onto it in the path."}
      </p>
      <Section title="Routing">
        <div className="flex min-h-6 items-center justify-between">
          Output <RouteMenu sound={sound} part={bus} />
        </div>
      </Section>
      <SendList source={bus.id} name={bus.name} />
      <Section title="Level and parts">
        <PartFields
          owner={bus.name}
          partId={bus.id}
          declaration={declarations.bus}
          part={bus}
          idle={(name) => (ofParts(name) && !bus.split ? "Only of a split bus" : null)}
          onChange={change}
        />
        <p className="mt-1 text-[12px] text-ink-2">
          {bus.each_note
            ? "Works on each note by itself: movers begin with it, key tracking knows it."
            : "Hears all notes together: movers and key tracking go by the hit's first note."}
        </p>
        {bus.split && (
          <p className="mt-1 text-[12px] text-ink-2">
            Each part has its own chain; both are summed in phase, 24 dB per octave.
          </p>
        )}
      </Section>
    </>
  );
}
