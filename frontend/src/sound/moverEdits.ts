import type { Link, ModeChange, Mover, MoverKind, Parameter, Processor, Sound } from "../api";
import { MOVER_DEFAULTS, MOVER_NAMES } from "../api/generated/kinds";
import type { Unit } from "../ui";
import { allBranches, allProcessors, withProcessor } from "./chains";
import { freshId, isPitched } from "./edits";
import { withoutLostRoutes, withoutLostSends } from "./routes";
import { changeOf } from "./modeEdits";

/** Pure changes of what moves in a sound. */

export { MOVER_NAMES };

export const MOVER_KINDS = Object.keys(MOVER_NAMES) as MoverKind[];

export function newMover(sound: Sound, kind: MoverKind): Mover {
  const same = sound.movers.filter((one) => one.kind === kind).length;
  const made: Mover = {
    id: freshId(sound, kind),
    name: MOVER_NAMES[kind] + (same ? ` ${same + 1}` : ""),
    ...MOVER_DEFAULTS[kind],
  };
  if (made.kind === "follower") return { ...made, layer: sound.layers[0]?.id ?? null };
  return made;
}

export function withMover(sound: Sound, id: string, change: (mover: Mover) => Mover): Sound {
  return { ...sound, movers: sound.movers.map((one) => (one.id === id ? change(one) : one)) };
}

export function withoutMover(sound: Sound, id: string): Sound {
  return { ...sound, movers: sound.movers.filter((one) => one.id !== id) };
}

/** Movers that move nothing: linked to nothing with an amount, and scaling nothing. */
export const idleMovers = (sound: Sound): Mover[] =>
  sound.movers.filter(
    ({ id }) =>
      !sound.links.some(
        (link) => link.amount !== 0 && (link.mover === id || link.scaled_by === id),
      ),
  );

export const newLink = (mover: string, target: string, amount: number): Link => ({
  mover,
  target,
  amount,
  bend: 0,
  scaled_by: null,
  law: "plain",
});

export const sameLink = (a: Link, b: Link) => a.mover === b.mover && a.target === b.target;

export function withLink(sound: Sound, link: Link): Sound {
  const others = sound.links.filter((one) => !sameLink(one, link));
  const index = sound.links.findIndex((one) => sameLink(one, link));
  if (index < 0) return { ...sound, links: [...others, link] };
  return { ...sound, links: sound.links.map((one) => (sameLink(one, link) ? link : one)) };
}

export function withoutLink(sound: Sound, link: Link): Sound {
  return { ...sound, links: sound.links.filter((one) => !sameLink(one, link)) };
}

/** The unit in which a parameter is moved: frequencies in octaves, all else in its own. */
export const movedUnit = ({ unit, octaves }: Parameter, law: Link["law"] = "plain"): Unit => {
  if (law === "amplitude") return "percent";
  return octaves && law === "plain" ? "octave" : unit;
};

/** The value of a target before anything moves it. */
export function valueAt(sound: Sound, target: string): number {
  const [id = "", ...path] = target.split(".");
  const parts = [
    ...sound.layers,
    ...sound.layers.flatMap(({ modulators }) => modulators),
    ...sound.buses,
    ...sound.sends,
    ...allProcessors(sound),
    ...allBranches(sound),
    ...sound.movers,
  ];
  const part = parts.find((one) => one.id === id);
  const mode = /^mode(\d+)$/.exec(path[1] ?? "");
  if (mode && part && "source" in part && typeof part.source === "object") {
    if (part.source.kind !== "struck") return 0;
    const value = changeOf(part.source, Number(mode[1]))[path[2] as keyof ModeChange];
    return typeof value === "number" ? value : 0;
  }
  const found = path.reduce<unknown>(
    (node, key) =>
      typeof node === "object" && node !== null
        ? (node as Record<string, unknown>)[key]
        : undefined,
    id === "main" ? sound.main : part,
  );
  return typeof found === "number" ? found : 0;
}

/** A first amount that is heard and does no harm; away from the end at which a value stands. */
export function firstAmount(
  parameter: Parameter,
  value: number,
  law: Link["law"] = "plain",
): number {
  const amounts: Partial<Record<Unit, number>> = {
    octave: 1,
    st: 2,
    dB: -6,
    cent: 20,
    deg: 45,
    s: 0.05,
    Hz: 4,
    beat: 1,
    note: 12,
  };
  const amount = amounts[movedUnit(parameter, law)] ?? (parameter.maximum - parameter.minimum) / 4;
  const room = amount > 0 ? parameter.maximum - value : value - parameter.minimum;
  return room <= 1e-9 * Math.abs(parameter.maximum) ? -amount : amount;
}

/** Modulators whose layer is gone go with it. */
function withoutMissingModulators(sound: Sound): Sound {
  const ids = new Set(sound.layers.map(({ id }) => id));
  const there = ({ by }: { by: string }) => ids.has(by);
  if (sound.layers.every(({ modulators }) => modulators.every(there))) return sound;
  return {
    ...sound,
    layers: sound.layers.map((layer) => ({
      ...layer,
      modulators: layer.modulators.filter(there),
    })),
  };
}

/** Links by the names of their movers: drawn curves of layers and the common pitch among them. */
export function curveMovers(sound: Sound): { id: string; name: string }[] {
  const ofLayers = sound.layers.flatMap(({ id, name, source }) => [
    { id: `${id}.level`, name: `${name} level curve` },
    ...(isPitched(source) ? [{ id: `${id}.pitch`, name: `${name} pitch curve` }] : []),
  ]);
  return [...ofLayers, { id: "common.pitch", name: "Common pitch curve" }];
}

/** What a mover is called, a drawn curve among them. */
export const moverName = (sound: Sound, id: string): string =>
  [...sound.movers, ...curveMovers(sound)].find((one) => one.id === id)?.name ?? id;

/** Processors that listened to a layer which is gone listen to their own input. */
function withoutLostSides(sound: Sound): Sound {
  const ids = new Set(sound.layers.map(({ id }) => id));
  const lost = (part: Processor) => "side" in part && part.side !== null && !ids.has(part.side);
  return allProcessors(sound)
    .filter(lost)
    .reduce(
      (now, { id }) => withProcessor(now, id, (part) => ({ ...part, side: null }) as Processor),
      sound,
    );
}

/** A sound without links that have lost their mover or their target, and followers of nothing. */
/** Whether a target within a layer's source is there: another kind of source has other numbers. */
function sourceHas(sound: Sound, target: string): boolean {
  const [id, first, ...path] = target.split(".");
  const source = sound.layers.find((one) => one.id === id)?.source;
  if (!source) return true;
  if (first === "pitch_st") return isPitched(source);
  if (first !== "source") return true;
  let part: unknown = source;
  for (const name of path) {
    if (typeof part !== "object" || part === null || !(name in part)) return false;
    part = (part as Record<string, unknown>)[name];
  }
  return true;
}

/** Voices differ only where a source may have several. */
function hasVoices(sound: Sound, target: string): boolean {
  const source = sound.layers.find(({ id }) => id === target.split(".")[0])?.source;
  return source !== undefined && "unison" in source;
}

export function pruned(whole: Sound): Sound {
  const sound = withoutLostSides(
    withoutLostSends(withoutLostRoutes(withoutMissingModulators(whole))),
  );
  if (sound.movers.length === 0 && sound.links.length === 0) return sound;
  const layers = new Set(sound.layers.map(({ id }) => id));
  const movers = sound.movers.filter(
    (one) => one.kind !== "follower" || one.layer === null || layers.has(one.layer),
  );
  const own = movers.map(({ id }) => id);
  const ids = new Set([...own, ...curveMovers(sound).map(({ id }) => id)]);
  const parts = new Set([
    "main",
    "common",
    ...layers,
    ...own,
    ...sound.layers.flatMap(({ modulators }) => modulators.map(({ id }) => id)),
    ...sound.buses.map(({ id }) => id),
    ...sound.sends.map(({ id }) => id),
    ...allProcessors(sound).map(({ id }) => id),
    ...allBranches(sound).map(({ id }) => id),
  ]);
  const links = sound.links
    .filter(
      ({ mover, target }) =>
        ids.has(mover) &&
        parts.has(target.split(".")[0] ?? "") &&
        sourceHas(sound, target) &&
        (movers.find(({ id }) => id === mover)?.kind !== "voice" || hasVoices(sound, target)),
    )
    .map((link) =>
      link.scaled_by !== null && !ids.has(link.scaled_by) ? { ...link, scaled_by: null } : link,
    );
  const same =
    movers.length === sound.movers.length &&
    links.length === sound.links.length &&
    links.every((link, n) => link === sound.links[n]);
  return same ? sound : { ...sound, movers, links };
}
