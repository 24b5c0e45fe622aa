import type { Bus, Sound } from "../api";

/** Pure changes of where layers and buses go. */

export interface Destination {
  id: string;
  name: string;
}

const ENDS: Destination[] = [
  { id: "main", name: "Main" },
  { id: "output", name: "Output" },
];

/** What a bus or layer may be called by, wherever it leads to. */
export const destinationName = (sound: Sound, id: string): string =>
  [...ENDS, ...sound.buses].find((one) => one.id === id)?.name ?? id;

/** Whether a way from one bus leads to another. */
function leadsTo(sound: Sound, from: string, wanted: string): boolean {
  for (let id = from, steps = 0; steps <= sound.buses.length; steps += 1) {
    if (id === wanted) return true;
    const bus = sound.buses.find((one) => one.id === id);
    if (!bus) return false;
    id = bus.to;
  }
  return false;
}

/** Where a layer or bus can go; a bus never to one that leads back to it. */
export function destinationsOf(sound: Sound, id: string): Destination[] {
  const buses = sound.buses.filter((bus) => !leadsTo(sound, bus.id, id));
  return [...buses.map((bus) => ({ id: bus.id, name: bus.name })), ...ENDS];
}

/** A layer or bus sent somewhere; the same sound where it cannot go there. */
export function withRoute(sound: Sound, id: string, to: string): Sound {
  if (!destinationsOf(sound, id).some((one) => one.id === to)) return sound;
  const sent = <T extends { id: string; to: string }>(parts: T[]) =>
    parts.map((part) => (part.id === id ? { ...part, to } : part));
  return { ...sound, layers: sent(sound.layers), buses: sent(sound.buses) };
}

export function newBus(id: string, name: string): Bus {
  return {
    id,
    name,
    to: "main",
    mute: false,
    split: false,
    crossover_hz: 150,
    low_db: 0,
    high_db: 0,
    level_db: 0,
    chain: [],
    low_chain: [],
  };
}

export const withBus = (sound: Sound, id: string, change: (bus: Bus) => Bus): Sound => ({
  ...sound,
  buses: sound.buses.map((bus) => (bus.id === id ? change(bus) : bus)),
});

/** Without a bus; what went to it goes where it went. */
export function withoutBus(sound: Sound, id: string): Sound {
  const gone = sound.buses.find((bus) => bus.id === id);
  if (!gone) return sound;
  const on = <T extends { to: string }>(parts: T[]) =>
    parts.map((part) => (part.to === id ? { ...part, to: gone.to } : part));
  return {
    ...sound,
    layers: on(sound.layers),
    buses: on(sound.buses.filter((bus) => bus.id !== id)),
  };
}

/** Whatever goes to a bus that is not there goes to main. */
export function withoutLostRoutes(sound: Sound): Sound {
  const known = new Set(["main", "output", ...sound.buses.map(({ id }) => id)]);
  const lost = ({ to }: { to: string }) => !known.has(to);
  if (!sound.layers.some(lost) && !sound.buses.some(lost)) return sound;
  const found = <T extends { to: string }>(parts: T[]) =>
    parts.map((part) => (lost(part) ? { ...part, to: "main" } : part));
  return { ...sound, layers: found(sound.layers), buses: found(sound.buses) };
}
