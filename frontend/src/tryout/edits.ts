import {
  TRYOUT_DEFAULTS,
  type Duck,
  type PlacedHit,
  type Plays,
  type TryOut,
  type TryOutPart,
} from "../api";
import { beatsOf } from "../sound";

export const MOST_PARTS = 24;
export const MOST_HITS = 2000;

/** A try-out with one part changed. */
export const withPart = (
  document: TryOut,
  id: string,
  change: (part: TryOutPart) => TryOutPart,
): TryOut => ({
  ...document,
  parts: document.parts.map((part) => (part.id === id ? change(part) : part)),
});

/** An id that no part has yet. */
export function freshId(document: TryOut, name: string): string {
  const plain = name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 30);
  const taken = new Set(document.parts.map(({ id }) => id));
  const base = plain || "part";
  for (let n = 1; ; n++) {
    const id = n === 1 ? base : `${base}-${n}`;
    if (!taken.has(id)) return id;
  }
}

/** A part at the end; a bed plays from the start by itself, others begin with one hit. */
export function withNewPart(document: TryOut, name: string, plays: Plays) {
  const id = freshId(document, name);
  const first: PlacedHit = { ...TRYOUT_DEFAULTS.hit, at_s: 0, in_beats: { at_s: 0 } };
  const part: TryOutPart = {
    ...TRYOUT_DEFAULTS.part,
    id,
    name: name.slice(0, 120),
    plays,
    hits: plays.kind === "bed" ? [] : [first],
  };
  return { document: { ...document, parts: [...document.parts, part] }, id };
}

/** Without a part, and without what refers to it. */
export function withoutPart(document: TryOut, id: string): TryOut {
  const { game } = document;
  return {
    ...document,
    parts: document.parts.filter((part) => part.id !== id),
    ducks: document.ducks.filter((duck) => duck.part !== id && duck.by !== id),
    game:
      game === null || game.part === id
        ? null
        : { ...game, bed: game.bed === id ? null : game.bed },
  };
}

export function withPartMoved(document: TryOut, id: string, places: number): TryOut {
  const from = document.parts.findIndex((part) => part.id === id);
  const to = Math.max(0, Math.min(document.parts.length - 1, from + places));
  const moved = document.parts[from];
  if (!moved || to === from) return document;
  const parts = document.parts.filter((part) => part.id !== id);
  parts.splice(to, 0, moved);
  return { ...document, parts };
}

export function withPartCopied(document: TryOut, id: string): TryOut {
  const at = document.parts.findIndex((part) => part.id === id);
  const part = document.parts[at];
  if (!part || document.parts.length >= MOST_PARTS) return document;
  const copy = { ...part, id: freshId(document, part.name), name: `${part.name.slice(0, 115)} 2` };
  const parts = [...document.parts.slice(0, at + 1), copy, ...document.parts.slice(at + 1)];
  return { ...document, parts };
}

const secondsOf = (document: TryOut, beats: number) => (beats * 60) / document.tempo_bpm;

/** A time in seconds as a hit keeps it: in beats where it lies on a grid, else in seconds. */
export function placeAt(document: TryOut, timeS: number, gridBeats: number | null) {
  const longest = Math.max(0, Math.min(120, timeS));
  if (gridBeats === null) return { at_s: longest, in_beats: {}, and_seconds: {} };
  const steps = Math.round((longest * document.tempo_bpm) / 60 / gridBeats);
  const beats = Number((steps * gridBeats).toFixed(9));
  return { at_s: secondsOf(document, beats), in_beats: { at_s: beats }, and_seconds: {} };
}

/** A hit added to a part; answers its place among the hits too. */
export function withHit(document: TryOut, id: string, hit: PlacedHit) {
  let place = -1;
  const made = withPart(document, id, (part) => {
    if (part.hits.length >= MOST_HITS) return part;
    place = part.hits.length;
    return { ...part, hits: [...part.hits, hit] };
  });
  return { document: made, place };
}

/** Some hits of a part changed. */
export const withHits = (
  document: TryOut,
  id: string,
  hits: readonly number[],
  change: (hit: PlacedHit) => PlacedHit,
): TryOut =>
  withPart(document, id, (part) => ({
    ...part,
    hits: part.hits.map((hit, n) => (hits.includes(n) ? change(hit) : hit)),
  }));

export const withoutHits = (document: TryOut, id: string, hits: readonly number[]): TryOut =>
  withPart(document, id, (part) => ({
    ...part,
    hits: part.hits.filter((_, n) => !hits.includes(n)),
  }));

/** A hit so much later, kept as it is kept: in beats where it was in beats. */
export function shifted(document: TryOut, hit: PlacedHit, byS: number): PlacedHit {
  const beats = beatsOf(hit, "at_s");
  const at = Math.max(0, Math.min(120, hit.at_s + byS));
  if (beats === undefined) return { ...hit, ...placeAt(document, at, null) };
  const next = Math.max(0, Number((beats + (byS * document.tempo_bpm) / 60).toFixed(9)));
  return { ...hit, at_s: secondsOf(document, next), in_beats: { ...hit.in_beats, at_s: next } };
}

export function withDuck(document: TryOut, duck: Duck): TryOut {
  const others = document.ducks.filter(({ part, by }) => part !== duck.part || by !== duck.by);
  return { ...document, ducks: [...others, duck] };
}

export const withoutDuck = (document: TryOut, part: string, by: string): TryOut => ({
  ...document,
  ducks: document.ducks.filter((duck) => duck.part !== part || duck.by !== by),
});

/** Parts that may pull another down, without any pulling itself down by a way round. */
export function mayDuck(document: TryOut, part: string): TryOutPart[] {
  const below = new Set([part]);
  for (let size = 0; size !== below.size;) {
    size = below.size;
    for (const duck of document.ducks) if (below.has(duck.by)) below.add(duck.part);
  }
  const already = document.ducks.filter((duck) => duck.part === part).map(({ by }) => by);
  return document.parts.filter(
    ({ id, plays }) => !below.has(id) && !already.includes(id) && plays.kind !== "bed",
  );
}
