import type { Bus, Processor, Sound } from "../api";

/** Pure changes of chains, wherever they stand: in layers, buses and the main output. */

/** A chain's address: "main", the id of a layer or bus, or "<bus>/low" for a bus's low part. */
export type ChainRef = string;

export interface ChainPlace {
  ref: ChainRef;
  /** Id of the layer or bus, or "main". */
  owner: string;
  name: string;
  chain: Processor[];
}

const LOW = "/low";

export function chainPlaces(sound: Sound): ChainPlace[] {
  const layers = sound.layers.map(({ id, name, chain }) => ({ ref: id, owner: id, name, chain }));
  const buses = sound.buses.flatMap(({ id, name, split, chain, low_chain }) => [
    { ref: id + LOW, owner: id, name: `${name} low`, chain: low_chain },
    { ref: id, owner: id, name: split ? `${name} high` : name, chain },
  ]);
  return [
    ...layers,
    ...buses,
    { ref: "main", owner: "main", name: "Main", chain: sound.main.chain },
  ];
}

export const allProcessors = (sound: Sound): Processor[] =>
  chainPlaces(sound).flatMap(({ chain }) => chain);

/** The chain in which a processor stands. */
export const placeOf = (sound: Sound, processorId: string): ChainPlace | undefined =>
  chainPlaces(sound).find(({ chain }) => chain.some(({ id }) => id === processorId));

export const chainOf = (sound: Sound, ref: ChainRef): Processor[] =>
  chainPlaces(sound).find((place) => place.ref === ref)?.chain ?? [];

/** Every chain changed by one rule; parts whose chain stays the same stay the same. */
function withEachChain(
  sound: Sound,
  change: (chain: Processor[], ref: ChainRef) => Processor[],
): Sound {
  const changedBus = (bus: Bus): Bus => ({
    ...bus,
    chain: change(bus.chain, bus.id),
    low_chain: change(bus.low_chain, bus.id + LOW),
  });
  return {
    ...sound,
    layers: sound.layers.map((layer) => ({ ...layer, chain: change(layer.chain, layer.id) })),
    buses: sound.buses.map(changedBus),
    main: { ...sound.main, chain: change(sound.main.chain, "main") },
  };
}

export const withChain = (sound: Sound, chain: Processor[], ref: ChainRef): Sound =>
  withEachChain(sound, (now, at) => (at === ref ? chain : now));

export const withProcessor = (
  sound: Sound,
  id: string,
  change: (processor: Processor) => Processor,
): Sound =>
  withEachChain(sound, (chain) => chain.map((part) => (part.id === id ? change(part) : part)));

export const withoutProcessor = (sound: Sound, id: string): Sound =>
  withEachChain(sound, (chain) => chain.filter((part) => part.id !== id));

/** The processor of an id, in whichever chain it stands. */
export const findProcessor = (sound: Sound, id: string): Processor | undefined =>
  allProcessors(sound).find((part) => part.id === id);

/** A processor put at a place of a chain, its own or another; the same where nothing changes. */
export function withProcessorAt(sound: Sound, id: string, ref: ChainRef, index: number): Sound {
  const from = placeOf(sound, id);
  const part = findProcessor(sound, id);
  if (!from || !part) return sound;
  const at = from.chain.findIndex((one) => one.id === id);
  // Taking it out moves what comes after it one place forward.
  const to = from.ref === ref && index > at ? index - 1 : index;
  if (from.ref === ref && to === at) return sound;
  const rest = chainOf(sound, ref).filter((one) => one.id !== id);
  return withChain(withoutProcessor(sound, id), rest.toSpliced(to, 0, part), ref);
}
