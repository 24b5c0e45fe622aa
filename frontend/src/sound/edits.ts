import {
  LAYER_DEFAULTS,
  PROCESSOR_DEFAULTS,
  SOUND_DEFAULTS,
  SOURCE_DEFAULTS,
} from "../api/generated/kinds";
import type { Curve, CurvePoint, Edit, Layer, Processor, Sound, Source } from "../api";
import { PIGMENT_ORDER } from "../ui";
import { allBranches, allProcessors, type Branch } from "./chains";
import { freshName, sourceName } from "./layerNames";

/** Pure changes of a sound document: each gives a new document, or the same where nothing changes. */

export function withLayer(sound: Sound, id: string, change: (layer: Layer) => Layer): Sound {
  return {
    ...sound,
    layers: sound.layers.map((layer) => (layer.id === id ? change(layer) : layer)),
  };
}

/** An id that no part of the sound has yet. */
export function freshId(sound: Sound, stem: string): string {
  const used = new Set([
    ...sound.layers.flatMap(({ id, modulators }) => [id, ...modulators.map((one) => one.id)]),
    ...sound.buses.map(({ id }) => id),
    ...sound.sends.map(({ id }) => id),
    ...allProcessors(sound).map(({ id }) => id),
    ...allBranches(sound).map(({ id }) => id),
    ...sound.movers.map(({ id }) => id),
  ]);
  let number = 1;
  while (used.has(`${stem}-${number}`)) number += 1;
  return `${stem}-${number}`;
}

export const point = (time_s: number, value: number, bend = 0): CurvePoint => ({
  time_s,
  value,
  bend,
});

export const curveOf = (points: CurvePoint[], release: CurvePoint[] = []): Curve => ({
  points,
  release,
  loop: null,
});

export const MOST_LAYERS = 8;

export const newSource = (kind: Source["kind"]): Source => SOURCE_DEFAULTS[kind];

/** What has a pitch, and curves and slides that move it. */
export const isPitched = (source: Source) => source.kind !== "noise";

/** A level that lets a source that ends by itself do so. */
const WHOLE = curveOf([point(0, 1)]);
const HELD = curveOf([point(0, 0), point(0.002, 1)], [point(0.06, 0, 3)]);
const SHORT = curveOf([point(0, 0), point(0.001, 1), point(0.1, 0, 4)]);
const BEGINS: Record<Source["kind"], Curve> = {
  tone: HELD,
  wavetable: HELD,
  noise: SHORT,
  struck: WHOLE,
  sample: WHOLE,
};

export function nextPigment(sound: Sound) {
  const used = sound.layers.map((layer) => layer.pigment);
  return (
    PIGMENT_ORDER.find((pigment) => !used.includes(pigment)) ??
    PIGMENT_ORDER[sound.layers.length % PIGMENT_ORDER.length] ??
    "rust"
  );
}

/** A new layer: a held level for a tone, a short one for a noise, so that it is heard at once. */
export function newLayer(sound: Sound, kind: Source["kind"]): Layer {
  const name = freshName(sound.layers, sourceName(SOURCE_DEFAULTS[kind]));
  return {
    ...LAYER_DEFAULTS,
    id: freshId(sound, kind),
    name,
    pigment: nextPigment(sound),
    level_db: kind === "noise" ? -12 : -6,
    source: SOURCE_DEFAULTS[kind],
    level: BEGINS[kind],
  };
}

export function emptySound(name: string): Sound {
  const seed = Math.floor(Math.random() * 2 ** 31);
  // Low enough for a hit; keys and pictures have room to both sides.
  const hit = { ...SOUND_DEFAULTS.hit, note: 48 };
  const sound: Sound = { ...SOUND_DEFAULTS, name, seed, hit };
  return { ...sound, layers: [newLayer(sound, "tone")] };
}

export const newBranch = (id: string, name: string): Branch => ({
  id,
  name,
  on: true,
  level_db: 0,
  chain: [],
});

/** A new processor as its kind declares it; a new kind needs nothing here. */
export function newProcessor(sound: Sound, kind: Processor["kind"]): Processor {
  const id = freshId(sound, kind.replace(/_/g, "-"));
  const made: Processor = { id, ...PROCESSOR_DEFAULTS[kind] };
  if (made.kind === "fork") {
    const branches = ["Dry", "Wet"].map((name, n) => newBranch(`${id}-${n + 1}`, name));
    return { ...made, branches };
  }
  // So that it is heard at once.
  return made.kind === "comb" ? { ...made, follows_note: true, feedback: 0.8 } : made;
}

/** Processors under ids that begin alike, their branches too. */
export function renamed(chain: Processor[], stem: string): Processor[] {
  return chain.map((part, n) => {
    const id = `${stem}-${n + 1}`;
    if (part.kind !== "fork") return { ...part, id };
    const branches = part.branches.map((branch, k) => {
      const own = `${id}-b${k + 1}`;
      return { ...branch, id: own, chain: renamed(branch.chain, own) };
    });
    return { ...part, id, branches };
  });
}

/** Layers with one moved by some places; the same sound where it cannot move. */
export function withLayerMoved(sound: Sound, id: string, places: number): Sound {
  const from = sound.layers.findIndex((layer) => layer.id === id);
  const to = from + places;
  const layer = sound.layers[from];
  if (!layer || to < 0 || to >= sound.layers.length) return sound;
  const rest = sound.layers.filter((_, index) => index !== from);
  return { ...sound, layers: [...rest.slice(0, to), layer, ...rest.slice(to)] };
}

/** A sound that an older page kept, with what has come to documents since at its default. */
export function completed(kept: Sound): Sound {
  const plain = emptySound(kept.name);
  const whole = { ...plain, ...kept, hit: { ...plain.hit, ...kept.hit } };
  const chain = (parts: Processor[]) =>
    parts.map((part) => ({ ...newProcessor(plain, part.kind), ...part }) as Processor);
  return {
    ...whole,
    layers: kept.layers.map((layer) => ({
      ...LAYER_DEFAULTS,
      ...layer,
      to: layer.to ?? "main",
      chain: chain(layer.chain),
    })),
    main: { ...plain.main, ...kept.main, chain: chain(kept.main.chain) },
  };
}

type Container = Record<string, unknown>;
const isContainer = (value: unknown): value is Container =>
  typeof value === "object" && value !== null;

function put(node: unknown, keys: string[], value: unknown): unknown {
  const [key, ...rest] = keys;
  if (key === undefined) return value;
  if (Array.isArray(node)) {
    if (key === String(node.length)) return [...(node as unknown[]), put(undefined, rest, value)];
    return node.map((item: unknown, index) =>
      String(index) === key ? put(item, rest, value) : item,
    );
  }
  return isContainer(node) ? { ...node, [key]: put(node[key], rest, value) } : node;
}

/** The edits of a fix, made as the server worded them; it checks the result again. */
export function withEdits(sound: Sound, edits: Edit[]): Sound {
  return edits.reduce((now, { path, value }) => put(now, path.split("."), value) as Sound, sound);
}
