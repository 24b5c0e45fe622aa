import type { Bus, Send, Sound } from "../api";
import { allBranches, allProcessors, chainPlaces, placeOf } from "./chains";

/** Pure changes of where layers and buses go. */

export interface Destination {
  id: string;
  name: string;
}

const ENDS: Destination[] = [
  { id: "main", name: "Main" },
  { id: "output", name: "Output" },
];
const NOWHERE: Destination = { id: "none", name: "Sends only" };

/** What a bus or layer may be called by, wherever it leads to. */
export const destinationName = (sound: Sound, id: string): string =>
  [...ENDS, NOWHERE, ...sound.buses].find((one) => one.id === id)?.name ?? id;

/** The layer, bus or "main" that something is in which can be sent from. */
export function ownerOf(sound: Sound, id: string): string {
  const branch = chainPlaces(sound).find(({ ref }) => ref === id);
  return branch?.owner ?? placeOf(sound, id)?.owner ?? id;
}

/** Everywhere that a layer, a bus or main leads to at once, its sends among them. */
function leads(sound: Sound, owner: string): string[] {
  const to = [...sound.layers, ...sound.buses].find(({ id }) => id === owner)?.to;
  const sent = sound.sends.filter(({ source }) => ownerOf(sound, source) === owner);
  return [...(to === undefined ? [] : [to]), ...sent.map((one) => one.to)];
}

/** Whether a way from one part leads to another. */
function leadsTo(sound: Sound, from: string, wanted: string): boolean {
  const seen = new Set<string>();
  const waiting = [from];
  for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
    if (at === wanted) return true;
    if (!seen.has(at)) waiting.push(...leads(sound, at));
    seen.add(at);
  }
  return false;
}

/** What hears all notes together cannot lead to a bus that hears each note apart. */
const hearsNotes = (sound: Sound, owner: string) =>
  owner === "main" || sound.buses.some(({ id, each_note }) => id === owner && !each_note);

/** The buses and ends that do not lead back to a part. */
function reachable(sound: Sound, owner: string): Destination[] {
  const buses = sound.buses.filter(
    (bus) => !leadsTo(sound, bus.id, owner) && !(bus.each_note && hearsNotes(sound, owner)),
  );
  const ends = ENDS.filter(({ id }) => id === "output" || !leadsTo(sound, "main", owner));
  return [...buses.map(({ id, name }) => ({ id, name })), ...ends];
}

/** Where a layer or bus can go; a bus never to one that leads back to it. */
export const destinationsOf = (sound: Sound, id: string): Destination[] => [
  ...reachable(sound, id),
  NOWHERE,
];

/** Where what comes out of a layer, a processor, a branch or a bus can be sent besides. */
export const sendDestinations = (sound: Sound, source: string): Destination[] =>
  reachable(sound, ownerOf(sound, source));

export const sendsOf = (sound: Sound, source: string): Send[] =>
  sound.sends.filter((one) => one.source === source);

export function withSend(sound: Sound, id: string, change: (send: Send) => Send): Sound {
  return { ...sound, sends: sound.sends.map((one) => (one.id === id ? change(one) : one)) };
}

export const withoutSend = (sound: Sound, id: string): Sound => ({
  ...sound,
  sends: sound.sends.filter((one) => one.id !== id),
});

/** Sends whose beginning or end is gone go with it. */
export function withoutLostSends(sound: Sound): Sound {
  if (sound.sends.length === 0) return sound;
  const sources = new Set([
    ...sound.layers.map(({ id }) => id),
    ...sound.buses.map(({ id }) => id),
    ...allProcessors(sound).map(({ id }) => id),
    ...allBranches(sound).map(({ id }) => id),
  ]);
  const ends = new Set(["main", "output", ...sound.buses.map(({ id }) => id)]);
  const there = ({ source, to }: Send) => sources.has(source) && ends.has(to);
  return sound.sends.every(there) ? sound : { ...sound, sends: sound.sends.filter(there) };
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
    each_note: false,
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
  const known = new Set(["main", "output", "none", ...sound.buses.map(({ id }) => id)]);
  const lost = ({ to }: { to: string }) => !known.has(to);
  if (!sound.layers.some(lost) && !sound.buses.some(lost)) return sound;
  const found = <T extends { to: string }>(parts: T[]) =>
    parts.map((part) => (lost(part) ? { ...part, to: "main" } : part));
  return { ...sound, layers: found(sound.layers), buses: found(sound.buses) };
}
