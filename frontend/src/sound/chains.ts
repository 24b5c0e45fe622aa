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
  /** Of a branch: the fork that it is of. */
  fork?: string;
}

const LOW = "/low";

export type ForkProcessor = Extract<Processor, { kind: "fork" }>;
export type Branch = ForkProcessor["branches"][number];

/** The branches of a fork; none of anything else. */
export const branchesOf = (part: Processor): Branch[] =>
  part.kind === "fork" ? part.branches : [];

/** Every chain of a sound in the order of the path, each before the branches of the forks in it. */
export function chainPlaces(sound: Sound): ChainPlace[] {
  const layers = sound.layers.map(({ id, name, chain }) => ({ ref: id, owner: id, name, chain }));
  const buses = sound.buses.flatMap(({ id, name, split, chain, low_chain }) => [
    { ref: id + LOW, owner: id, name: `${name} low`, chain: low_chain },
    { ref: id, owner: id, name: split ? `${name} high` : name, chain },
  ]);
  const whole: ChainPlace[] = [
    ...layers,
    ...buses,
    { ref: "main", owner: "main", name: "Main", chain: sound.main.chain },
  ];
  return whole.flatMap(withBranches);
}

function withBranches(place: ChainPlace): ChainPlace[] {
  const inner = place.chain.flatMap((part) =>
    branchesOf(part).map((branch) => ({
      ref: branch.id,
      owner: place.owner,
      name: `${place.name} ${branch.name}`,
      chain: branch.chain,
      fork: part.id,
    })),
  );
  return [place, ...inner.flatMap(withBranches)];
}

export const allProcessors = (sound: Sound): Processor[] =>
  chainPlaces(sound).flatMap(({ chain }) => chain);

export const allBranches = (sound: Sound): Branch[] => allProcessors(sound).flatMap(branchesOf);

/** The chain in which a processor stands. */
export const placeOf = (sound: Sound, processorId: string): ChainPlace | undefined =>
  chainPlaces(sound).find(({ chain }) => chain.some(({ id }) => id === processorId));

export const chainOf = (sound: Sound, ref: ChainRef): Processor[] =>
  chainPlaces(sound).find((place) => place.ref === ref)?.chain ?? [];

type ChainChange = (chain: Processor[], ref: ChainRef) => Processor[];

/** A chain and those in its branches, each changed by one rule. */
function changedChain(chain: Processor[], ref: ChainRef, change: ChainChange): Processor[] {
  return change(chain, ref).map((part) => {
    if (part.kind !== "fork") return part;
    const branches = part.branches.map((branch) => {
      const inner = changedChain(branch.chain, branch.id, change);
      return inner === branch.chain ? branch : { ...branch, chain: inner };
    });
    return { ...part, branches };
  });
}

/** Every chain changed by one rule; parts whose chain stays the same stay the same. */
export function withEachChain(sound: Sound, change: ChainChange): Sound {
  const changedBus = (bus: Bus): Bus => ({
    ...bus,
    chain: changedChain(bus.chain, bus.id, change),
    low_chain: changedChain(bus.low_chain, bus.id + LOW, change),
  });
  return {
    ...sound,
    layers: sound.layers.map((layer) => ({
      ...layer,
      chain: changedChain(layer.chain, layer.id, change),
    })),
    buses: sound.buses.map(changedBus),
    main: { ...sound.main, chain: changedChain(sound.main.chain, "main", change) },
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

export const withBranch = (sound: Sound, id: string, change: (branch: Branch) => Branch): Sound =>
  withEachChain(sound, (chain) =>
    chain.some((part) => branchesOf(part).some((one) => one.id === id))
      ? chain.map((part) =>
          part.kind === "fork"
            ? {
                ...part,
                branches: part.branches.map((one) => (one.id === id ? change(one) : one)),
              }
            : part,
        )
      : chain,
  );

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
  // A fork cannot be put into a branch of its own.
  if (within(part, ref)) return sound;
  const rest = chainOf(sound, ref).filter((one) => one.id !== id);
  return withChain(withoutProcessor(sound, id), rest.toSpliced(to, 0, part), ref);
}

/** Whether a chain is that of a branch of a processor, near or far. */
const within = (part: Processor, ref: ChainRef): boolean =>
  branchesOf(part).some(({ id, chain }) => id === ref || chain.some((one) => within(one, ref)));

/** How many forks a chain lies in. */
export function forkDepth(sound: Sound, ref: ChainRef): number {
  const place = chainPlaces(sound).find((one) => one.ref === ref);
  if (place?.fork === undefined) return 0;
  const outer = placeOf(sound, place.fork);
  return 1 + (outer ? forkDepth(sound, outer.ref) : 0);
}
