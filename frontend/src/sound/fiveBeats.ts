import type { Curve, CurvePoint } from "../api";
import { beatsOf } from "./beats";
import { curveOfFive, fiveOfCurve, fivePoints, type FiveNumbers } from "./fiveNumbers";

/** Which of the five numbers' times are kept as beats: where each begins and ends on a beat. */

export type FiveTime = "attack_s" | "hold_s" | "decay_s" | "release_s";
export type FiveBeats = Partial<Record<FiveTime, number | undefined>>;

/** The points at which each time begins and ends, in their order. */
function spans(curve: Curve): [FiveTime, CurvePoint | null, CurvePoint][] {
  const { start, peak, hold, decay } = fivePoints(curve);
  const found: [FiveTime, CurvePoint | null, CurvePoint][] = [["attack_s", start, peak]];
  if (hold) found.push(["hold_s", peak, hold]);
  if (decay) found.push(["decay_s", hold ?? peak, decay]);
  const [release] = curve.release;
  if (release) found.push(["release_s", null, release]);
  return found;
}

const placeInBeats = (point: CurvePoint | null): number | undefined =>
  point === null || point.time_s === 0 ? 0 : beatsOf(point, "time_s");

/** The times of a curve that are whole numbers of beats from one kept point to the next. */
export function beatsOfFive(curve: Curve): FiveBeats {
  const found: FiveBeats = {};
  for (const [name, before, end] of spans(curve)) {
    const [from, to] = [placeInBeats(before), beatsOf(end, "time_s")];
    if (from !== undefined && to !== undefined) found[name] = Math.round((to - from) * 1e6) / 1e6;
  }
  return found;
}

/** A curve with one of its five numbers set, those in beats kept so; ``typed`` are its own beats. */
export function withFiveNumber(
  curve: Curve,
  key: keyof FiveNumbers,
  value: number | null,
  typed?: number,
): Curve {
  const ofTime = ["attack_s", "hold_s", "decay_s", "release_s"].includes(key);
  const beats: FiveBeats = { ...beatsOfFive(curve), ...(ofTime ? { [key]: typed } : {}) };
  const { five: before } = fiveOfCurve(curve);
  const five = { ...before, [key]: value };
  // Without a decay the sustain is the peak.
  if (key === "peak" && before.decay_s === 0 && before.sustain === before.peak)
    five.sustain = five.peak;
  const made = curveOfFive(five);
  const placed = new Map<CurvePoint, CurvePoint>();
  for (const [name, before, end] of spans(made)) {
    const from = placeInBeats(before === null ? null : (placed.get(before) ?? before));
    const own = beats[name];
    // After a time in seconds no point lies on a beat that follows the tempo.
    if (own !== undefined && from !== undefined)
      placed.set(end, { ...end, in_beats: { time_s: from + own } });
  }
  const kept = (point: CurvePoint) => placed.get(point) ?? point;
  return { ...made, points: made.points.map(kept), release: made.release.map(kept) };
}
