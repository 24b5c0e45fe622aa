import { describe, expect, it } from "vitest";
import { hitGain } from "./hitGain";

/** The value of straight lines between points at a moment, as the audio clock would have it. */
function valueAt(points: { at: number; value: number }[], at: number): number {
  const next = points.findIndex((one) => one.at > at);
  const after = points[next];
  const before = next === -1 ? points.at(-1) : points[next - 1];
  if (!before) return after?.value ?? 1;
  if (!after) return before.value;
  return before.value + ((after.value - before.value) * (at - before.at)) / (after.at - before.at);
}

/** As core/tryout/rendering.py has it: a rise, and a fade of 5 ms from where a choke falls. */
function expected(at: number, attackS: number, untilS: number): number {
  const rise = attackS > 0 ? Math.min(1, at / attackS) : 1;
  return rise * (at < untilS ? 1 : Math.max(0, 1 - (at - untilS) / 0.005));
}

describe("the gain of a hit", () => {
  it.each([
    [0.1, 0.5],
    [0.1, 0.04],
    [0.1, 0.1],
    [0, 0.04],
  ])("with an attack of %s s, choked after %s s, is that of the core", (attackS, untilS) => {
    const points = hitGain({ attackS, untilS, level: 1 });
    for (let at = 0; at < untilS + 0.006; at += 0.0005)
      // A rise that goes on through the fade differs by less than 5 ms of it.
      expect(Math.abs(valueAt(points, at) - expected(at, attackS, untilS))).toBeLessThan(0.06);
    expect(valueAt(points, untilS + 0.005)).toBe(0);
  });

  it("without either is a level", () => {
    expect(hitGain({ attackS: 0, untilS: null, level: 0.5 })).toEqual([]);
  });
});
