import type { Curve, CurvePoint } from "../api";

/** Attack, hold, decay, sustain and release: five numbers and their bends for one curve. */
export interface FiveNumbers {
  /** Value at the very start: 0 for a level. */
  start: number;
  attack_s: number;
  attack_bend: number;
  peak: number;
  hold_s: number;
  decay_s: number;
  decay_bend: number;
  sustain: number;
  /** Null for a one-shot, which has no release part. */
  release_s: number | null;
  release_bend: number;
  end: number;
}

const point = (time_s: number, value: number, bend: number): CurvePoint => ({
  time_s,
  value,
  bend,
});
const near = (a: number, b: number) => Math.abs(a - b) < 1e-9;
const tidy = (value: number) => Number(value.toPrecision(12));

/** The curve that five numbers say. */
export function curveOfFive(five: FiveNumbers): Curve {
  const points: CurvePoint[] = [];
  if (five.attack_s > 0) points.push(point(0, five.start, 0));
  let at = five.attack_s;
  points.push(point(at, five.peak, five.attack_s > 0 ? five.attack_bend : 0));
  if (five.hold_s > 0) points.push(point(tidy((at += five.hold_s)), five.peak, 0));
  if (five.decay_s > 0)
    points.push(point(tidy((at += five.decay_s)), five.sustain, five.decay_bend));
  const release =
    five.release_s === null ? [] : [point(five.release_s, five.end, five.release_bend)];
  return { points, release, loop: null };
}

/** The five numbers of a curve, and in words what they cannot say of it (nothing where empty). */
export function fiveOfCurve(curve: Curve): { five: FiveNumbers; lost: string[] } {
  const lost: string[] = [];
  const points = [...curve.points];
  const first = points[0] ?? point(0, 0, 0);
  const highest = points.reduce((best, own) => (own.value > best.value ? own : best), first);
  const peakAt = points.indexOf(highest);
  const before = points.slice(0, peakAt);
  const rest = points.slice(peakAt + 1);
  const top = highest;
  const start = before[0] ?? point(0, 0, 0);
  if (before.length > 0 && !near(start.time_s, 0)) lost.push("the delay before the first point");
  if (before.length > 1)
    lost.push(`${before.length - 1} ${plural(before.length - 1)} on the way up`);
  let hold_s = 0;
  const held = rest[0];
  // A flat way after the peak is the hold; only where a decay follows, or nothing does.
  if (held && near(held.value, top.value) && held.time_s > top.time_s) {
    hold_s = tidy(held.time_s - top.time_s);
    if (held.bend !== 0) lost.push("the bend of the hold");
    rest.shift();
  }
  const last = rest.at(-1);
  if (rest.length > 1) lost.push(`${rest.length - 1} ${plural(rest.length - 1)} on the way down`);
  if (curve.loop) lost.push("the loop");
  if (curve.release.length > 1)
    lost.push(`${curve.release.length - 1} ${plural(curve.release.length - 1)} of the release`);
  const end = curve.release.at(-1);
  const five: FiveNumbers = {
    start: before.length > 0 ? start.value : 0,
    attack_s: before.length > 0 ? top.time_s : 0,
    attack_bend: before.length > 0 ? top.bend : 0,
    peak: top.value,
    hold_s,
    decay_s: last ? tidy(last.time_s - top.time_s - hold_s) : 0,
    decay_bend: last?.bend ?? 0,
    sustain: last?.value ?? top.value,
    release_s: end ? end.time_s : null,
    release_bend: end?.bend ?? 0,
    end: end?.value ?? 0,
  };
  if (before.length === 0 && !near(top.time_s, 0)) lost.push("the delay before the first point");
  if (last && five.decay_s <= 0) lost.push("a step after the peak");
  return { five, lost };
}

const plural = (count: number) => (count === 1 ? "point" : "points");

/** When a decay from 1 towards a sustain with a bend has gone down by some dB; null where it never does. */
export function fallTime(five: FiveNumbers, fallDb: number): number | null {
  const target = five.peak * 10 ** (-fallDb / 20);
  if (five.peak <= 0 || five.sustain >= target || five.decay_s <= 0) return null;
  const way = (five.peak - target) / (five.peak - five.sustain);
  const b = five.decay_bend;
  const x = Math.abs(b) < 1e-6 ? way : -Math.log(1 - way * (1 - Math.exp(-b))) / b;
  return five.attack_s + five.hold_s + x * five.decay_s;
}
