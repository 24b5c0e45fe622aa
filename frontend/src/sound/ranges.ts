import type { Link, Mover, Parameter, Sound } from "../api";
import { allBranches, allProcessors, withBranch, withProcessor } from "./chains";
import { freshId, withLayer } from "./edits";
import { withBus, withSend } from "./routes";
import { newLink, valueAt, withLink, withMover, withoutLink } from "./moverEdits";

/** The range over which a link moves its target, and links made from ranges. */

export interface Range {
  from: number;
  to: number;
}

/** The least and the most that a mover says. */
function spanAt(sound: Sound, id: string): Range | null {
  const [owner, curve] = id.split(".");
  if (curve === "level") return { from: 0, to: 1 };
  const drawn =
    owner === "common" ? sound.pitch : sound.layers.find((one) => one.id === owner)?.pitch;
  if (curve === "pitch" && drawn) {
    // Semitones as octaves.
    const octaves = [...drawn.points, ...drawn.release].map(({ value }) => value / 12);
    return { from: Math.min(0, ...octaves), to: Math.max(0, ...octaves) };
  }
  const mover = sound.movers.find((one) => one.id === id);
  return mover ? moverSpan(mover) : null;
}

export function moverSpan(mover: Mover): Range {
  const of = (values: number[]): Range => ({
    from: Math.max(-1, Math.min(...values)),
    to: Math.min(1, Math.max(...values)),
  });
  switch (mover.kind) {
    case "macro":
    case "velocity":
    case "hold":
    case "follower":
      return { from: 0, to: 1 };
    case "lfo":
      return { from: mover.one_sided ? 0 : -1, to: 1 };
    case "random":
    case "voice":
    case "note":
      return { from: -1, to: 1 };
    case "steps":
      return of(mover.values);
    case "curve":
      return of([...mover.curve.points, ...mover.curve.release].map(({ value }) => value));
  }
}

type Law = Link["law"];

const inOctaves = (parameter: Parameter, law: Law) => Boolean(parameter.octaves) && law === "plain";

/** A value so far from another, in the unit in which the parameter is moved. */
const shifted = (base: number, by: number, parameter: Parameter, law: Law) =>
  inOctaves(parameter, law) ? base * 2 ** by : base + by;

const between = (from: number, to: number, parameter: Parameter, law: Law) =>
  inOctaves(parameter, law) ? Math.log2(to / from) : to - from;

const tidy = (value: number) => Number(value.toPrecision(6));

/** Where a target stands at the mover's least and at its most, before its range ends. */
export function linkRange(sound: Sound, link: Link, parameter: Parameter): Range | null {
  const span = spanAt(sound, link.mover);
  // As amplitude it is a share of the level, down to silence.
  if (!span || link.law === "amplitude") return null;
  const base = valueAt(sound, link.target);
  return {
    from: shifted(base, link.amount * span.from, parameter, link.law),
    to: shifted(base, link.amount * span.to, parameter, link.law),
  };
}

/** A number put at a target; a pitch that is only moved has none. */
export function withValueAt(sound: Sound, target: string, value: number): Sound {
  const [id = "", ...path] = target.split(".");
  const put = <T>(node: T, keys: string[]): T => {
    const [key = "", ...rest] = keys;
    const inner = (node as Record<string, unknown>)[key];
    return { ...node, [key]: rest.length > 0 ? put(inner, rest) : value };
  };
  if (path.at(-1) === "pitch_st") return sound;
  if (id === "main") return { ...sound, main: put(sound.main, path) };
  if (sound.layers.some((one) => one.id === id))
    return withLayer(sound, id, (layer) => put(layer, path));
  if (sound.buses.some((one) => one.id === id)) return withBus(sound, id, (bus) => put(bus, path));
  if (sound.sends.some((one) => one.id === id))
    return withSend(sound, id, (send) => put(send, path));
  if (allBranches(sound).some((one) => one.id === id))
    return withBranch(sound, id, (branch) => put(branch, path));
  const modulated = sound.layers.find(({ modulators }) => modulators.some((one) => one.id === id));
  if (modulated)
    return withLayer(sound, modulated.id, (layer) => ({
      ...layer,
      modulators: layer.modulators.map((one) => (one.id === id ? put(one, path) : one)),
    }));
  if (allProcessors(sound).some((one) => one.id === id))
    return withProcessor(sound, id, (part) => put(part, path));
  return withMover(sound, id, (mover) => put(mover, path));
}

/** The link and its target's value so that the target goes from one end to the other. */
export function withLinkRange(
  sound: Sound,
  link: Link,
  parameter: Parameter,
  { from, to }: Range,
): Sound {
  const span = spanAt(sound, link.mover);
  const reach = span ? span.to - span.from : 0;
  if (!span || reach <= 0) return sound;
  const amount = tidy(between(from, to, parameter, link.law) / reach);
  const base = tidy(shifted(from, -amount * span.from, parameter, link.law));
  const bounded = Math.min(parameter.maximum, Math.max(parameter.minimum, base));
  return withValueAt(withLink(sound, { ...link, amount }), link.target, bounded);
}

/** The sound with the link standing still: at its mover's least (0), its middle, its most (1). */
export function heldLink(sound: Sound, link: Link, at: number): Sound {
  const span = spanAt(sound, link.mover);
  if (!span) return sound;
  const id = freshId(sound, "steps");
  const still: Mover = {
    id,
    name: "Still",
    kind: "steps",
    values: [1],
    skipped: [],
    sync: true,
    beats: 1,
    rate_hz: 1,
    glide: 0,
  };
  const amount = link.amount * (span.from + at * (span.to - span.from));
  const without = withoutLink(sound, link);
  return withLink(
    { ...without, movers: [...without.movers, still] },
    { ...link, mover: id, amount, bend: 0, scaled_by: null },
  );
}

/**
 * What was changed between two states becomes links of a macro: the values go back to where they
 * were, and the macro at 100 % takes them to where they were put.
 */
export function learned(
  before: Sound,
  after: Sound,
  macro: string,
  targets: { target: string; parameter: Parameter }[],
): { sound: Sound; count: number } {
  const changed = targets.filter(
    ({ target }) =>
      !target.startsWith(`${macro}.`) && valueAt(before, target) !== valueAt(after, target),
  );
  const sound = changed.reduce((now, { target, parameter }) => {
    const was = valueAt(before, target);
    const amount = tidy(between(was, valueAt(after, target), parameter, "plain"));
    return withLink(withValueAt(now, target, was), newLink(macro, target, amount));
  }, after);
  const turned = withMover(sound, macro, (now) => ({ ...now, value: 1 }) as Mover);
  return { sound: changed.length > 0 ? turned : after, count: changed.length };
}
