import type { Curve, CurvePoint } from "../../api";
import { type CurveName, CURVE_KINDS, type Part, type PointAddress } from "../../sound";

/** Changes of a whole curve, or of the points selected; each pure, the same curve where nothing changes. */

const LATEST_S = 60;
const PARTS: Part[] = ["points", "release"];
const tidy = (value: number) => Number(value.toPrecision(12));
const clamp = (value: number, [low, high]: [number, number]) =>
  Math.min(high, Math.max(low, value));

export const sameAddress = (a: PointAddress, b: PointAddress) =>
  a.part === b.part && a.index === b.index;

const holds = (addresses: PointAddress[] | null, part: Part, index: number) =>
  addresses === null || addresses.some((one) => sameAddress(one, { part, index }));

/** How long the held part is. */
export const curveLength = (curve: Curve) => curve.points.at(-1)?.time_s ?? 0;

/** Points moved together; they keep their distances, and pass no neighbour that stays. */
export function movedPoints(
  curve: Curve,
  addresses: PointAddress[],
  { timeS, value }: { timeS: number; value: number },
  name: CurveName,
): Curve {
  let earliest = -Infinity;
  let latest = Infinity;
  const [low, high] = CURVE_KINDS[name].limits;
  let lowest = -Infinity;
  let highest = Infinity;
  for (const { part, index } of addresses) {
    const own = curve[part][index];
    if (!own) continue;
    const stays = (n: number) => curve[part][n] !== undefined && !holds(addresses, part, n);
    const before = stays(index - 1) ? (curve[part][index - 1]?.time_s ?? 0) : 0;
    const after = stays(index + 1) ? (curve[part][index + 1]?.time_s ?? LATEST_S) : LATEST_S;
    earliest = Math.max(earliest, before - own.time_s);
    latest = Math.min(latest, after - own.time_s);
    lowest = Math.max(lowest, low - own.value);
    highest = Math.min(highest, high - own.value);
  }
  const shiftS = Math.min(latest, Math.max(earliest, timeS));
  const shift = Math.min(highest, Math.max(lowest, value));
  const moved = (part: Part) =>
    curve[part].map((own, index) =>
      holds(addresses, part, index)
        ? { ...own, time_s: tidy(own.time_s + shiftS), value: tidy(own.value + shift) }
        : own,
    );
  return { ...curve, points: moved("points"), release: moved("release") };
}

/** A curve without the points; the held part keeps its first where all would go. */
export function withoutPoints(curve: Curve, addresses: PointAddress[]): Curve {
  const left = (part: Part) => curve[part].filter((_, index) => !holds(addresses, part, index));
  const points = left("points");
  const first = curve.points[0];
  const changed = points.length !== curve.points.length;
  return {
    ...curve,
    points: points.length > 0 || !first ? points : [first],
    release: left("release"),
    loop: changed ? null : curve.loop,
  };
}

/** The stretch of one part that addresses span; the held part where none are given. */
function stretchOf(curve: Curve, addresses: PointAddress[] | null) {
  const part: Part = addresses?.[0]?.part ?? "points";
  const own = addresses?.filter((one) => one.part === part).map(({ index }) => index);
  const from = own && own.length > 1 ? Math.min(...own) : 0;
  const to = own && own.length > 1 ? Math.max(...own) : curve[part].length - 1;
  return { part, from, to };
}

/** Run backwards: times mirrored, and each way bent the other way round. */
export function flippedInTime(curve: Curve, addresses: PointAddress[] | null = null): Curve {
  const { part, from, to } = stretchOf(curve, addresses);
  const stretch = curve[part].slice(from, to + 1);
  const first = stretch[0];
  const last = stretch.at(-1);
  if (!first || !last || first === last) return curve;
  const flipped = stretch.map((_, n): CurvePoint => {
    const mirror = stretch[stretch.length - 1 - n] ?? first;
    const led = stretch[stretch.length - n];
    const bend = n === 0 ? first.bend : -(led?.bend ?? 0);
    return {
      time_s: tidy(first.time_s + last.time_s - mirror.time_s),
      value: mirror.value,
      bend: bend === 0 ? 0 : bend,
    };
  });
  const points = [...curve[part].slice(0, from), ...flipped, ...curve[part].slice(to + 1)];
  return { ...curve, [part]: points };
}

/** Upside down within the range that the points span. */
export function flippedInValue(curve: Curve, addresses: PointAddress[] | null = null): Curve {
  const values = PARTS.flatMap((part) =>
    curve[part].filter((_, n) => holds(addresses, part, n)).map(({ value }) => value),
  );
  const sum = Math.min(...values) + Math.max(...values);
  const flipped = (part: Part) =>
    curve[part].map((own, n) =>
      holds(addresses, part, n) ? { ...own, value: tidy(sum - own.value) } : own,
    );
  return { ...curve, points: flipped("points"), release: flipped("release") };
}

/** Stretched so that the held part, or the selected stretch, lasts exactly so long. */
export function stretchedTo(
  curve: Curve,
  lengthS: number,
  addresses: PointAddress[] | null = null,
): Curve {
  const inHand = (addresses?.length ?? 0) > 1;
  const { part, from, to } = stretchOf(curve, inHand ? addresses : null);
  // The whole held part counts from the start of the layer, a stretch from its first point.
  const startS = inHand ? (curve[part][from]?.time_s ?? 0) : 0;
  const nowS = (curve[part][to]?.time_s ?? 0) - startS;
  if (nowS <= 0 || lengthS <= 0) return curve;
  const points = curve[part].map((own, n) => {
    if (n < from) return own;
    const time =
      n <= to ? startS + ((own.time_s - startS) * lengthS) / nowS : own.time_s + lengthS - nowS;
    return { ...own, time_s: n === to ? startS + lengthS : tidy(Math.min(LATEST_S, time)) };
  });
  return { ...curve, [part]: points };
}

/** Values times a factor: a level from silence, a pitch from 0 st. */
export function scaledValues(
  curve: Curve,
  factor: number,
  name: CurveName,
  addresses: PointAddress[] | null = null,
): Curve {
  const limits = CURVE_KINDS[name].limits;
  const scaled = (part: Part) =>
    curve[part].map((own, n) =>
      holds(addresses, part, n) ? { ...own, value: tidy(clamp(own.value * factor, limits)) } : own,
    );
  return { ...curve, points: scaled("points"), release: scaled("release") };
}

/** The curve's own values at the times of another; further points keep their distance. */
export function withTimingOf(curve: Curve, other: Curve): Curve {
  const timed = (part: Part) => {
    const given = other[part];
    const lastGiven = given.at(-1)?.time_s ?? 0;
    const own = curve[part];
    const lastShared = own[Math.min(own.length, given.length) - 1]?.time_s ?? 0;
    return own.map((point, n) => ({
      ...point,
      time_s: tidy(given[n]?.time_s ?? Math.min(LATEST_S, lastGiven + point.time_s - lastShared)),
    }));
  };
  return { ...curve, points: timed("points"), release: timed("release") };
}

function rangeOf(curve: Curve): [number, number] {
  const values = PARTS.flatMap((part) => curve[part].map(({ value }) => value));
  return [Math.min(...values), Math.max(...values)];
}

/** How far a curve of one value goes once it gets a shape: an octave, or all of it. */
const WHOLE: Record<CurveName, number> = { level: 1, pitch: 12, mover: 1 };

/** A stock shape (0 to 1 over 1 s) at the length and range of the curve that it replaces. */
export function shapeFitted(shape: Curve, curve: Curve, name: CurveName): Curve {
  const lengthS = curveLength(curve) > 0 ? curveLength(curve) : 1;
  const [low, high] = name === "level" ? [0, 1] : rangeOf(curve);
  const reach = high > low ? high - low : WHOLE[name];
  const points = shape.points.map((own) => ({
    ...own,
    time_s: tidy(own.time_s * lengthS),
    value: tidy(low + own.value * reach),
  }));
  return { points, release: curve.release, loop: null };
}

/** A curve of another kind, its range mapped onto the one of the kind wanted. */
export function asKind(curve: Curve, from: CurveName, to: CurveName): Curve {
  // A level is what a mover of 0 to 100 % is.
  if (from === to || (from === "level" && to === "mover")) return curve;
  const [low, high] = rangeOf(curve);
  const span = high > low ? high - low : 1;
  const mapped = (value: number) => {
    const part = (value - low) / span;
    return tidy(part * WHOLE[to]);
  };
  const all = (part: Part) => curve[part].map((own) => ({ ...own, value: mapped(own.value) }));
  return { ...curve, points: all("points"), release: all("release") };
}

/** The release part with the time and the bend of the decay, so that a tap rings as a hold does. */
export function releaseLikeDecay(curve: Curve): Curve {
  const peak = curve.points.reduce(
    (best, { value }, n) => (value >= (curve.points[best]?.value ?? 0) ? n : best),
    0,
  );
  const top = curve.points[peak];
  const after = curve.points.slice(peak + 1);
  const last = after.at(-1);
  if (!top || !last || last.time_s <= top.time_s) return curve;
  const reach = top.value - last.value;
  // A decay that stops at a sustain is carried on to 0 at the pace it began with.
  const bend = after.length === 1 ? last.bend : 4;
  const release = after.map((own) => ({
    time_s: tidy(own.time_s - top.time_s),
    value: reach > 0 ? tidy(Math.max(0, ((own.value - last.value) / reach) * top.value)) : 0,
    bend: after.length === 1 ? bend : own.bend,
  }));
  return { ...curve, release };
}

/** Everything after the loudest point of the held part, or the release part, made longer. */
export function decayScaled(curve: Curve, part: Part, factor: number): Curve {
  if (part === "release") {
    const release = curve.release.map((own) => ({ ...own, time_s: tidy(own.time_s * factor) }));
    return { ...curve, release };
  }
  const loudest = Math.max(...curve.points.map(({ value }) => value));
  const peak = curve.points.findLastIndex(({ value }) => value === loudest);
  const from = curve.points[peak]?.time_s ?? 0;
  const points = curve.points.map((own, n) =>
    n <= peak
      ? own
      : { ...own, time_s: tidy(Math.min(LATEST_S, from + (own.time_s - from) * factor)) },
  );
  return { ...curve, points };
}
