import { MoveRight } from "lucide-react";
import type { Sound } from "../../api";
import { ActionMenu } from "../../ui";
import {
  freshId,
  destinationName,
  destinationsOf,
  newBus,
  withRoute,
  edit,
  select,
} from "../../sound";

interface Props {
  sound: Sound;
  /** Of the layer or bus, with its name and where it goes now. */
  part: { id: string; name: string; to: string };
}

const MOST_BUSES = 6;

/** A new bus selected at once, and what shall go to it. */
export function addBus(sound: Sound, from?: string): void {
  const id = freshId(sound, "bus");
  const name = `Bus ${sound.buses.length + 1}`;
  edit(`Bus added: ${name}`, (now) => {
    const added = { ...now, buses: [...now.buses, newBus(id, name)] };
    return from ? withRoute(added, from, id) : added;
  });
  select({ kind: "bus", id });
}

export const canAddBus = (sound: Sound) => sound.buses.length < MOST_BUSES;

/** Where a layer or bus goes, and the choice of another way. */
export function RouteMenu({ sound, part }: Props) {
  const route = (to: string) =>
    edit(`${part.name} to ${destinationName(sound, to)}`, (now) => withRoute(now, part.id, to));
  const actions = destinationsOf(sound, part.id).map(({ id, name }) => ({
    label: id === "output" ? "Output, past the main chain" : name,
    on: id === part.to,
    act: () => route(id),
  }));
  const more = canAddBus(sound)
    ? [{ label: "A new bus", on: false, act: () => addBus(sound, part.id) }]
    : [];
  return (
    <ActionMenu
      label={`${part.name} goes to ${destinationName(sound, part.to)}`}
      title={`Output ${destinationName(sound, part.to)}; choose another output`}
      className="flex min-h-6 max-w-[62px] shrink-0 items-center gap-0.5 rounded-sm px-0.5 text-[10.5px] text-ink-2 hover:bg-band"
      anchor="top start"
      actions={[...actions, ...more]}
    >
      <MoveRight size={11} aria-hidden className="shrink-0" />
      <span className="truncate">{destinationName(sound, part.to)}</span>
    </ActionMenu>
  );
}
