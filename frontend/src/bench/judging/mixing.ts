import type { Curve, Declarations, Layer, Mover, Parameter, Processor, Sound } from "../../api";
import { fromFraction, toFraction } from "../../ui";
import { sameLink } from "../../sound";

/** Between two states of a sound: every parameter on its own scale, everything else the nearer one's. */

type Tree = Record<string, unknown>;
type Declared = Map<string, Parameter>;

const isTree = (value: unknown): value is Tree =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const isNumbers = (value: unknown): value is number[] =>
  Array.isArray(value) && value.every((one) => typeof one === "number");
const tidy = (value: number) => Number(value.toPrecision(10));
const linear = (a: number, b: number, part: number) => tidy(a + (b - a) * part);

function mixNumber(a: number, b: number, part: number, declared: Parameter | undefined): number {
  if (a === b || !declared) return linear(a, b, part);
  const fraction = linear(toFraction(a, declared), toFraction(b, declared), part);
  const mixed = fromFraction(fraction, declared);
  return declared.whole ? Math.round(mixed) : tidy(mixed);
}

function mixNumbers(a: number[], b: number[], part: number): number[] {
  const length = Math.max(a.length, b.length);
  return Array.from({ length }, (_, n) => linear(a[n] ?? 0, b[n] ?? 0, part));
}

function mixCurve(a: Curve, b: Curve, part: number): Curve {
  const alike = a.points.length === b.points.length && a.release.length === b.release.length;
  const nearer = part < 0.5 ? a : b;
  if (!alike) return nearer;
  const mixed = (key: "points" | "release") =>
    a[key].map((own, n) => {
      const other = b[key][n] ?? own;
      return {
        time_s: linear(own.time_s, other.time_s, part),
        value: linear(own.value, other.value, part),
        bend: linear(own.bend, other.bend, part),
      };
    });
  return { points: mixed("points"), release: mixed("release"), loop: nearer.loop };
}

function mixTree(a: Tree, b: Tree, part: number, declared: Declared): Tree {
  if (a["kind"] !== b["kind"]) return part < 0.5 ? a : b;
  const mixed: Tree = {};
  for (const key of Object.keys(part < 0.5 ? a : b)) {
    const [own, other] = [a[key], b[key]];
    if (typeof own === "number" && typeof other === "number") {
      // A choice among named numbers, such as a slope, is no quantity.
      mixed[key] = declared.has(key)
        ? mixNumber(own, other, part, declared.get(key))
        : part < 0.5
          ? own
          : other;
    } else if (isTree(own) && isTree(other)) {
      mixed[key] =
        "points" in own
          ? mixCurve(
              own as Curve & Record<string, unknown>,
              other as Curve & Record<string, unknown>,
              part,
            )
          : mixTree(own, other, part, declared);
    } else if (isNumbers(own) && isNumbers(other)) mixed[key] = mixNumbers(own, other, part);
    else mixed[key] = part < 0.5 ? own : other;
  }
  return mixed;
}

const declaredBy = (...parts: { parameters: Parameter[] }[]): Declared =>
  new Map(parts.flatMap(({ parameters }) => parameters.map((one) => [one.name, one] as const)));

/** A layer that only one of them has, quieter the further away that one is. */
function faded(layer: Layer, share: number): Layer[] {
  if (share <= 0) return [];
  return [{ ...layer, level_db: tidy(Math.max(-72, layer.level_db + 20 * Math.log10(share))) }];
}

function mixChains(a: Processor[], b: Processor[], part: number, all: Declarations): Processor[] {
  return (part < 0.5 ? a : b).map((own) => {
    const first = a.find(({ id }) => id === own.id);
    const second = b.find(({ id }) => id === own.id);
    if (!first || !second || first.kind !== second.kind) return own;
    const declared = declaredBy(all.processors[own.kind]);
    return mixTree({ ...first }, { ...second }, part, declared) as Processor &
      Record<string, unknown>;
  });
}

/** The sound ``part`` (0 to 1) of the way from one to another; at both ends exactly those. */
export function mixedSound(a: Sound, b: Sound, part: number, all: Declarations): Sound {
  if (part <= 0) return a;
  if (part >= 1) return b;
  const nearer = part < 0.5 ? a : b;
  const inLayer = (kind: Layer["source"]["kind"]) =>
    declaredBy(all.sources[kind], all.unison, all.partials, all.layer);
  const ids = [...nearer.layers, ...(part < 0.5 ? b : a).layers].map(({ id }) => id);
  const layers = [...new Set(ids)].flatMap((id) => {
    const first = a.layers.find((one) => one.id === id);
    const second = b.layers.find((one) => one.id === id);
    if (!first || !second) {
      return first ? faded(first, 1 - part) : second ? faded(second, part) : [];
    }
    const { chain: chainA, ...ownA } = first;
    const { chain: chainB, ...ownB } = second;
    const kind = part < 0.5 ? first.source.kind : second.source.kind;
    const mixed = mixTree({ ...ownA }, { ...ownB }, part, inLayer(kind)) as Layer &
      Record<string, unknown>;
    return [{ ...mixed, chain: mixChains(chainA, chainB, part, all) }];
  });
  const movers = nearer.movers.map((own) => {
    const first = a.movers.find(({ id }) => id === own.id);
    const second = b.movers.find(({ id }) => id === own.id);
    if (!first || !second) return own;
    const declared = declaredBy(all.movers[own.kind]);
    return mixTree({ ...first }, { ...second }, part, declared) as Mover & Record<string, unknown>;
  });
  const links = nearer.links.map((own) => {
    const first = a.links.find((one) => sameLink(one, own));
    const second = b.links.find((one) => sameLink(one, own));
    if (!first || !second) return own;
    return { ...own, amount: linear(first.amount, second.amount, part) };
  });
  return {
    ...nearer,
    movers,
    links,
    tempo_bpm: mixNumber(a.tempo_bpm, b.tempo_bpm, part, declaredBy(all.sound).get("tempo_bpm")),
    pitch: mixCurve(a.pitch, b.pitch, part),
    layers: layers.slice(0, 8),
    main: {
      ...nearer.main,
      chain: mixChains(a.main.chain, b.main.chain, part, all),
      level_db: mixNumber(a.main.level_db, b.main.level_db, part, undefined),
    },
    hit: mixTree({ ...a.hit }, { ...b.hit }, part, declaredBy(all.hit)) as Sound["hit"] &
      Record<string, unknown>,
  };
}
