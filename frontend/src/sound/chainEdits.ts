import type { Processor, Sound } from "../api";
import {
  chainOf,
  type ChainRef,
  findProcessor,
  placeOf,
  withChain,
  withoutProcessor,
} from "./chains";
import { freshId, newProcessor, renamed } from "./edits";
import { processorName } from "./processorNames";
import { edit, select, type Selection, useBench } from "./store";

/** Where a processor that is asked for from anywhere goes: after the selection. */
export function placeInHand(sound: Sound, selection: Selection): { ref: ChainRef; index: number } {
  if (selection.kind === "processor") {
    const place = placeOf(sound, selection.id);
    if (place) {
      const at = place.chain.findIndex(({ id }) => id === selection.id);
      return { ref: place.ref, index: at + 1 };
    }
  }
  const owner = selection.kind === "layer" || selection.kind === "bus" ? selection.id : "main";
  return { ref: owner, index: chainOf(sound, owner).length };
}

export const withAdded = (sound: Sound, part: Processor, ref: ChainRef, index: number): Sound =>
  withChain(sound, chainOf(sound, ref).toSpliced(index, 0, part), ref);

/** A sound with a new processor after the selection, and its id. */
export function withNewInHand(sound: Sound, kind: Processor["kind"]): { sound: Sound; id: string } {
  const { ref, index } = placeInHand(sound, useBench.getState().selection);
  const part = newProcessor(sound, kind);
  return { sound: withAdded(sound, part, ref, index), id: part.id };
}

export function addInHand(kind: Processor["kind"]): void {
  const { document } = useBench.getState();
  if (!document) return;
  const { sound, id } = withNewInHand(document, kind);
  edit(`${processorName(kind)} added`, () => sound);
  select({ kind: "processor", id });
}

/** What is selected once a processor is gone: the one that takes its place, else what holds the chain. */
export function besideProcessor(sound: Sound, id: string): Selection {
  const place = placeOf(sound, id);
  if (!place) return { kind: "main" };
  const at = place.chain.findIndex((one) => one.id === id);
  const beside = place.chain[at + 1] ?? place.chain[at - 1];
  if (beside) return { kind: "processor", id: beside.id };
  if (place.fork !== undefined) return { kind: "processor", id: place.fork };
  const { owner } = place;
  if (owner === "main") return { kind: "main" };
  return { kind: sound.layers.some((one) => one.id === owner) ? "layer" : "bus", id: owner };
}

export function removeProcessor(id: string): void {
  const { document } = useBench.getState();
  const part = document && findProcessor(document, id);
  if (!document || !part) return;
  const next = besideProcessor(document, id);
  edit(`${processorName(part.kind)} removed`, (sound) => withoutProcessor(sound, id));
  select(next);
}

const COMMON = ["on", "mix", "level_db", "keep_loudness", "band", "split_hz"] as const;

/** Another kind in the same place: with what all kinds have, and links to that. */
export function withReplaced(sound: Sound, id: string, kind: Processor["kind"]): Sound {
  const old = findProcessor(sound, id);
  const place = placeOf(sound, id);
  if (!old || !place) return sound;
  const made = newProcessor(sound, kind);
  const kept = Object.fromEntries(COMMON.map((name) => [name, old[name]]));
  // Its own mix is part of what a kind is: an echo half loud, a filter whole.
  const part = { ...made, ...kept, mix: made.mix, id } as Processor;
  const links = sound.links.filter(({ target }) => {
    const [owner, name = ""] = target.split(".");
    return owner !== id || (COMMON as readonly string[]).includes(name);
  });
  const chain = place.chain.map((one) => (one.id === id ? part : one));
  return { ...withChain(sound, chain, place.ref), links };
}

export function replaceWith(id: string, kind: Processor["kind"]): void {
  edit(`Replaced by ${processorName(kind)}`, (sound) => withReplaced(sound, id, kind));
}

/** Processors under ids of their own, so that the same chain can stand twice. */
export function freshCopies(sound: Sound, chain: Processor[]): Processor[] {
  const layers = new Set(sound.layers.map(({ id }) => id));
  let now = sound;
  return chain.map((part) => {
    const id = freshId(now, part.kind.replace(/_/g, "-"));
    const branches =
      part.kind === "fork"
        ? {
            branches: part.branches.map((branch, k) => ({
              ...branch,
              id: `${id}-b${k + 1}`,
              chain: renamed(branch.chain, `${id}-b${k + 1}`),
            })),
          }
        : {};
    // A layer of another sound cannot be listened to here.
    const side =
      "side" in part && part.side !== null && !layers.has(part.side) ? { side: null } : {};
    const copy = { ...part, ...side, ...branches, id } as Processor;
    now = withAdded(now, copy, "main", 0);
    return copy;
  });
}

/** A whole chain put at the end of another. */
export function withLoaded(sound: Sound, ref: ChainRef, chain: Processor[]): Sound {
  return withChain(sound, [...chainOf(sound, ref), ...freshCopies(sound, chain)], ref);
}

let copied: Processor | null = null;

export function copyProcessor(part: Processor): void {
  copied = part;
}

export const hasCopied = () => copied !== null;

/** The copied processor after the selection. */
export function pasteProcessor(): void {
  const { document, selection } = useBench.getState();
  const [part] = document && copied ? freshCopies(document, [copied]) : [];
  if (!document || !part) return;
  const { ref, index } = placeInHand(document, selection);
  edit(`${processorName(part.kind)} pasted`, (sound) => withAdded(sound, part, ref, index));
  select({ kind: "processor", id: part.id });
}

/** The sound with every processor switched off, as it is heard while effects are off. */
export function withoutEffects(sound: Sound): Sound {
  const off = (chain: Processor[]) => chain.map((part) => ({ ...part, on: false }));
  return {
    ...sound,
    layers: sound.layers.map((layer) => ({ ...layer, chain: off(layer.chain) })),
    buses: sound.buses.map((bus) => ({
      ...bus,
      chain: off(bus.chain),
      low_chain: off(bus.low_chain),
    })),
    main: { ...sound.main, chain: off(sound.main.chain) },
  };
}

export const toggleEffects = () =>
  useBench.setState((state) => ({ effectsOff: !state.effectsOff }));
