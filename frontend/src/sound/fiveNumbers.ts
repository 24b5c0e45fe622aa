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

/** Which points of a curve the five numbers stand at; null where a part takes no point. */
interface FivePoints {
  start: CurvePoint | null;
  peak: CurvePoint;
  hold: CurvePoint | null;
  decay: CurvePoint | null;
  /** Points on the way up and down that five numbers cannot say. */
  extra: { up: number; down: number };
}

/**
 * The points of a curve by their meaning. Four points, of which the first is at 0 and the middle two
 * are level, are start, peak, hold and decay, whatever their values; of others the highest is the peak.
 */
export function fivePoints(curve: Curve): FivePoints {
  const [a, b, c, d] = curve.points;
  if (a && b && c && d && curve.points.length === 4 && a.time_s === 0 && c.bend === 0)
    if (near(b.value, c.value))
      return { start: a, peak: b, hold: c, decay: d, extra: { up: 0, down: 0 } };
  const first = a ?? point(0, 0, 0);
  const peak = curve.points.reduce((best, own) => (own.value > best.value ? own : best), first);
  const peakAt = curve.points.indexOf(peak);
  const before = curve.points.slice(0, Math.max(0, peakAt));
  const rest = curve.points.slice(peakAt + 1);
  // A flat way after the peak is the hold.
  const held = rest[0] && near(rest[0].value, peak.value) && rest[0].time_s > peak.time_s;
  const hold = held ? (rest.shift() ?? null) : null;
  return {
    start: before[0] ?? null,
    peak,
    hold,
    decay: rest.at(-1) ?? null,
    extra: { up: Math.max(0, before.length - 1), down: Math.max(0, rest.length - 1) },
  };
}

/** The five numbers of a curve, and in words what they cannot say of it (nothing where empty). */
export function fiveOfCurve(curve: Curve): { five: FiveNumbers; lost: string[] } {
  const lost: string[] = [];
  const { start, peak, hold, decay, extra } = fivePoints(curve);
  const counted = (count: number, where: string) =>
    count > 0 && lost.push(`${count} ${count === 1 ? "point" : "points"} ${where}`);
  if (!near((start ?? peak).time_s, 0)) lost.push("the delay before the first point");
  counted(extra.up, "on the way up");
  if (hold && hold.bend !== 0) lost.push("the bend of the hold");
  counted(extra.down, "on the way down");
  if (curve.loop) lost.push("the loop");
  counted(curve.release.length - 1, "of the release");
  const end = curve.release.at(-1);
  const five: FiveNumbers = {
    start: start?.value ?? 0,
    attack_s: start ? peak.time_s : 0,
    attack_bend: start ? peak.bend : 0,
    peak: peak.value,
    hold_s: hold ? tidy(hold.time_s - peak.time_s) : 0,
    decay_s: decay ? tidy(decay.time_s - (hold ?? peak).time_s) : 0,
    decay_bend: decay?.bend ?? 0,
    sustain: decay?.value ?? peak.value,
    release_s: end ? end.time_s : null,
    release_bend: end?.bend ?? 0,
    end: end?.value ?? 0,
  };
  return { five, lost };
}

/** With as few points as say them: none for a part that takes no time. */
function shortCurve(five: FiveNumbers): CurvePoint[] {
  const points: CurvePoint[] = [];
  if (five.attack_s > 0) points.push(point(0, five.start, 0));
  let at = five.attack_s;
  points.push(point(at, five.peak, five.attack_s > 0 ? five.attack_bend : 0));
  if (five.hold_s > 0) points.push(point(tidy((at += five.hold_s)), five.peak, 0));
  if (five.decay_s > 0)
    points.push(point(tidy((at += five.decay_s)), five.sustain, five.decay_bend));
  return points;
}

/** With a point for each, so that whatever was typed is read back: a decay that stays at the peak. */
function fullCurve(five: FiveNumbers): CurvePoint[] {
  const held = tidy(five.attack_s + five.hold_s);
  return [
    point(0, five.start, 0),
    point(five.attack_s, five.peak, five.attack_bend),
    point(held, five.peak, 0),
    point(tidy(held + five.decay_s), five.sustain, five.decay_bend),
  ];
}

const sameFive = (a: FiveNumbers, b: FiveNumbers) =>
  (Object.keys(a) as (keyof FiveNumbers)[]).every((key) => {
    const [one, other] = [a[key], b[key]];
    return one === other || (one !== null && other !== null && near(one, other));
  });

/** The curve that five numbers say. */
export function curveOfFive(five: FiveNumbers): Curve {
  const release =
    five.release_s === null ? [] : [point(five.release_s, five.end, five.release_bend)];
  const made: Curve = { points: shortCurve(five), release, loop: null };
  return sameFive(fiveOfCurve(made).five, five) ? made : { ...made, points: fullCurve(five) };
}

/** When a decay from 1 towards a sustain with a bend has gone down by some dB; null where it never does. */
export function fallTime(five: FiveNumbers, fallDb: number): number | null {
  const target = five.peak * 10 ** (-fallDb / 20);
  if (five.peak <= 0 || five.sustain >= target || five.decay_s <= 0) return null;
  const way = (five.peak - target) / (five.peak - five.sustain);
  const b = five.decay_bend;
  const x = Math.abs(b) < 1e-6 ? way : -Math.log(1 - way * (1 - Math.exp(-b))) / b;
  return five.attack_s + five.hold_s + x * five.decay_s;
}
