import type { Curve, CurvePoint } from "../api";
import { formatValue } from "../ui";

const LATEST_S = 60;

export type Part = "points" | "release";

/** A point of a curve by the part it stands in and its place there. */
export interface PointAddress {
  part: Part;
  index: number;
}

/** When a point happens on the ruler; the release part counts from the end of the hold. */
export function pointTime(curve: Curve, { part, index }: PointAddress, holdS: number): number {
  const own = curve[part][index]?.time_s ?? 0;
  return part === "release" ? holdS + own : own;
}

/** All points in the order of the ruler, with their addresses and times there. */
export function pointsOnRuler(curve: Curve, holdS: number) {
  const rows = (part: Part) =>
    curve[part].map((value, index) => ({
      point: value,
      address: { part, index },
      timeS: pointTime(curve, { part, index }, holdS),
    }));
  return [...rows("points"), ...rows("release")];
}

/**
 * A curve with a point at another time. What comes after it moves along where it would be passed,
 * and keeps its distances.
 */
export function withPointAt(curve: Curve, { part, index }: PointAddress, time_s: number): Curve {
  const own = curve[part][index];
  const next = curve[part][index + 1];
  if (!own) return curve;
  const along = next && time_s > next.time_s ? time_s - own.time_s : 0;
  const points = curve[part].map((one, n) => {
    if (n === index) return { ...one, time_s };
    return n > index && along > 0 ? { ...one, time_s: one.time_s + along } : one;
  });
  return { ...curve, [part]: points };
}

/** Why a point cannot be put at a time; null where it can. */
export function timeRefusal(
  curve: Curve,
  { part, index }: PointAddress,
  timeS: number,
): string | null {
  const before = curve[part][index - 1];
  if (before && timeS < before.time_s - 1e-9)
    return `The point before it is at ${formatValue(before.time_s, "s")}: move that first`;
  const last = withPointAt(curve, { part, index }, timeS)[part].at(-1);
  if (last && last.time_s > LATEST_S + 1e-9)
    return `The points after it would lie beyond ${formatValue(LATEST_S, "s")}`;
  return null;
}

/** A curve with one point changed; a point can't pass its neighbours, the first stays at its start. */
export function withPoint(
  curve: Curve,
  { part, index }: PointAddress,
  change: Partial<CurvePoint>,
): Curve {
  const points = curve[part].map((own, n) => {
    if (n !== index) return own;
    const earliest = curve[part][n - 1]?.time_s ?? 0;
    const latest = curve[part][n + 1]?.time_s ?? LATEST_S;
    const time_s = Math.min(latest, Math.max(earliest, change.time_s ?? own.time_s));
    return { ...own, ...change, time_s };
  });
  return { ...curve, [part]: points };
}

/** A curve with a point added at a moment of the ruler, and the new point's address. */
export function withNewPoint(curve: Curve, timeS: number, value: number, holdS: number) {
  const part: Part = curve.release.length > 0 && timeS >= holdS ? "release" : "points";
  const time_s = part === "release" ? timeS - holdS : timeS;
  const after = curve[part].findIndex((own) => own.time_s > time_s);
  const index = after < 0 ? curve[part].length : after;
  const points = [
    ...curve[part].slice(0, index),
    { time_s, value, bend: 0 },
    ...curve[part].slice(index),
  ];
  // A loop's ends are places in the held part and move with what is put before them.
  const loop =
    curve.loop && part === "points"
      ? {
          start: curve.loop.start + (index <= curve.loop.start ? 1 : 0),
          end: curve.loop.end + (index <= curve.loop.end ? 1 : 0),
        }
      : curve.loop;
  return { curve: { ...curve, [part]: points, loop }, address: { part, index } };
}

/** A curve without a point; the last one of the held part can't go. */
export function withoutPoint(curve: Curve, { part, index }: PointAddress): Curve {
  if (part === "points" && curve.points.length === 1) return curve;
  return {
    ...curve,
    [part]: curve[part].filter((_, n) => n !== index),
    loop: part === "points" ? null : curve.loop,
  };
}

/** How far from one point to the next, 0 to 1; the engine's own definition of a bend. */
export function bentWay(x: number, bend: number): number {
  return Math.abs(bend) < 1e-6 ? x : Math.expm1(-bend * x) / Math.expm1(-bend);
}

/** The way a curve takes on the ruler as corner points close enough to draw. */
export function curveOutline(
  curve: Curve,
  holdS: number,
  endS: number,
): { timeS: number; value: number }[] {
  const path: { timeS: number; value: number }[] = [];
  const way = (fromS: number, from: number, toS: number, to: number, bend: number) => {
    const pieces = Math.abs(bend) < 1e-6 || toS <= fromS ? 1 : 24;
    for (let n = 1; n <= pieces; n++) {
      const x = n / pieces;
      path.push({ timeS: fromS + (toS - fromS) * x, value: from + (to - from) * bentWay(x, bend) });
    }
  };
  const first = curve.points[0];
  if (!first) return path;
  path.push({ timeS: 0, value: first.value }, { timeS: first.time_s, value: first.value });
  let last = first;
  for (const next of curve.points.slice(1)) {
    if (curve.release.length > 0 && next.time_s > holdS) {
      const x = next.time_s > last.time_s ? (holdS - last.time_s) / (next.time_s - last.time_s) : 1;
      const here = last.value + (next.value - last.value) * bentWay(x, next.bend);
      way(last.time_s, last.value, holdS, here, next.bend * x);
      last = { time_s: holdS, value: here, bend: 0 };
      break;
    }
    way(last.time_s, last.value, next.time_s, next.value, next.bend);
    last = next;
  }
  let here = { timeS: last.time_s, value: last.value };
  if (curve.release.length > 0) {
    here = { timeS: holdS, value: last.value };
    path.push(here);
    for (const next of curve.release) {
      way(here.timeS, here.value, holdS + next.time_s, next.value, next.bend);
      here = { timeS: holdS + next.time_s, value: next.value };
    }
  }
  path.push({ timeS: Math.max(endS, here.timeS), value: here.value });
  return path;
}
