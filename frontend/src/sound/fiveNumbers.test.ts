import { describe, expect, it } from "vitest";
import type { Curve } from "../api/types";
import { withFiveNumber } from "./fiveBeats";
import { curveOfFive, fiveOfCurve, type FiveNumbers } from "./fiveNumbers";
import { curveOutline } from "./curveEdits";

const NEW_TONE: Curve = {
  points: [
    { time_s: 0, value: 0, bend: 0 },
    { time_s: 0.004, value: 1, bend: 0 },
  ],
  release: [{ time_s: 0.06, value: 0, bend: 3 }],
  loop: null,
};

/** Numbers that look random and are always the same. */
function chance(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 16807) % 2147483647) / 2147483647;
}

const valueAt = (curve: Curve, timeS: number) => {
  const way = curveOutline(curve, 1, 2);
  const after = way.findIndex((one) => one.timeS >= timeS);
  const [a, b] = [way[after - 1], way[after]];
  if (!a || !b) return way[0]?.value ?? 0;
  return a.value + ((b.value - a.value) * (timeS - a.timeS)) / Math.max(1e-12, b.timeS - a.timeS);
};

describe("five numbers", () => {
  it("are read back whatever was typed", () => {
    const random = chance(11);
    const pick = <T>(...of: T[]) => of[Math.floor(random() * of.length)] as T;
    for (let n = 0; n < 500; n += 1) {
      const five: FiveNumbers = {
        start: pick(0, 0, -7, 0.5),
        attack_s: pick(0, 0.01, 0.3),
        attack_bend: pick(0, 3),
        peak: pick(1, 0.5, -12, 0),
        hold_s: pick(0, 0.1),
        decay_s: pick(0, 0.25),
        decay_bend: pick(0, -2),
        sustain: pick(1, 0.5, 0, 24),
        release_s: pick(null, 0.2),
        release_bend: 0,
        end: 0,
      };
      const { five: back, lost } = fiveOfCurve(curveOfFive(five));
      for (const key of Object.keys(five) as (keyof FiveNumbers)[]) {
        const [was, is] = [five[key], back[key]];
        if (was === null || is === null) expect(is, key).toBe(was);
        else expect(is, `${key} of ${JSON.stringify(five)}`).toBeCloseTo(was, 9);
      }
      expect(lost).toEqual([]);
    }
  });

  it("take a decay and a sustain on a new sound, in either order", () => {
    const decayFirst = withFiveNumber(withFiveNumber(NEW_TONE, "decay_s", 0.3), "sustain", 0.4);
    const sustainFirst = withFiveNumber(withFiveNumber(NEW_TONE, "sustain", 0.4), "decay_s", 0.3);
    expect(fiveOfCurve(decayFirst).five).toEqual(fiveOfCurve(sustainFirst).five);
    const { five } = fiveOfCurve(withFiveNumber(NEW_TONE, "decay_s", 0.3));
    expect([five.hold_s, five.decay_s, five.sustain]).toEqual([0, 0.3, 1]);
    expect(valueAt(decayFirst, 0.004 + 0.15)).toBeCloseTo(0.7, 6);
  });

  it("keep the sustain at the peak where there is no decay", () => {
    const quieter = withFiveNumber(NEW_TONE, "peak", 0.5);
    expect(fiveOfCurve(quieter).five).toMatchObject({ peak: 0.5, sustain: 0.5, decay_s: 0 });
    expect(quieter.points).toHaveLength(2);
  });
});
