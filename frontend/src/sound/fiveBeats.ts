import type { Curve, CurvePoint } from "../api";
import { type BeatTime, beatTimeOf } from "./beats";
import { curveOfFive, fiveOfCurve, fivePoints, type FiveNumbers } from "./fiveNumbers";

/** Which of the five numbers' times are kept as beats: where one ends beats after it begins. */

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

const START: BeatTime = { beats: 0, seconds: 0 };

/** Where a point lies, from the start of its part. */
const placeOf = (point: CurvePoint | null): BeatTime =>
  point === null ? START : (beatTimeOf(point, "time_s") ?? { beats: 0, seconds: point.time_s });

const rounded = (value: number) => Math.round(value * 1e6) / 1e6;

/** The times of a curve that are beats and no seconds from one kept point to the next. */
export function beatsOfFive(curve: Curve): FiveBeats {
  const found: FiveBeats = {};
  for (const [name, before, end] of spans(curve)) {
    const [from, to] = [placeOf(before), placeOf(end)];
    const beats = rounded(to.beats - from.beats);
    if (beats > 0 && Math.abs(to.seconds - from.seconds) < 1e-9) found[name] = beats;
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
  const placed = new Map<CurvePoint, BeatTime>();
  for (const [name, before, end] of spans(made)) {
    const from = before === null ? START : (placed.get(before) ?? START);
    const own = beats[name];
    const lasts = end.time_s - (before?.time_s ?? 0);
    placed.set(
      end,
      own === undefined
        ? { ...from, seconds: from.seconds + lasts }
        : { ...from, beats: from.beats + own },
    );
  }
  const kept = (point: CurvePoint): CurvePoint => {
    const place = placed.get(point) ?? START;
    if (place.beats === 0) return point;
    const seconds = rounded(place.seconds);
    return {
      ...point,
      in_beats: { time_s: place.beats },
      ...(seconds === 0 ? {} : { and_seconds: { time_s: seconds } }),
    };
  };
  return { ...made, points: made.points.map(kept), release: made.release.map(kept) };
}
