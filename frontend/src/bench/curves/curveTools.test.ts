import { describe, expect, it } from "vitest";
import type { Curve } from "../../api/types";
import { curveOutline } from "../../sound/curveEdits";
import {
  asKind,
  decayScaled,
  flippedInTime,
  flippedInValue,
  movedPoints,
  releaseLikeDecay,
  scaledValues,
  shapeFitted,
  stretchedTo,
  withoutPoints,
  withTimingOf,
} from "./curveTools";
import { curveOfFive, fallTime, fiveOfCurve, type FiveNumbers } from "../../sound/fiveNumbers";

const curve = (...rows: [number, number, number?][]): Curve => ({
  points: rows.map(([time_s, value, bend = 0]) => ({ time_s, value, bend })),
  release: [],
  loop: null,
});
const rows = (of: Curve) => of.points.map(({ time_s, value, bend }) => [time_s, value, bend]);
const at = (index: number) => ({ part: "points" as const, index });
const valueAt = (of: Curve, timeS: number) => {
  const way = curveOutline(of, 0, 10);
  const after = way.findIndex((one) => one.timeS >= timeS);
  const [a, b] = [way[Math.max(0, after - 1)], way[after]];
  if (!a || !b || b.timeS === a.timeS) return b?.value ?? 0;
  return a.value + ((b.value - a.value) * (timeS - a.timeS)) / (b.timeS - a.timeS);
};

describe("points selected", () => {
  const four = curve([0, 0], [0.1, 1], [0.2, 0.5], [0.4, 0]);

  it("move together and stop at the neighbours that stay", () => {
    const moved = movedPoints(four, [at(1), at(2)], { timeS: 0.05, value: -0.2 }, "level");
    expect(rows(moved).slice(1, 3)).toEqual([
      [0.15, 0.8, 0],
      [0.25, 0.3, 0],
    ]);
    const stopped = movedPoints(four, [at(1), at(2)], { timeS: 9, value: 9 }, "level");
    expect(rows(stopped).slice(1, 3)).toEqual([
      [0.3, 1, 0],
      [0.4, 0.5, 0],
    ]);
  });

  it("go, but never all of the held part", () => {
    expect(rows(withoutPoints(four, [at(1), at(3)]))).toEqual([
      [0, 0, 0],
      [0.2, 0.5, 0],
    ]);
    expect(withoutPoints(four, [0, 1, 2, 3].map(at)).points).toHaveLength(1);
  });
});

describe("the whole curve", () => {
  const bent = curve([0, 0], [0.01, 1, 2], [0.5, 0.2, 4], [1, 0, -3]);

  it("runs backwards along the same way", () => {
    const back = flippedInTime(bent);
    for (const t of [0.05, 0.3, 0.51, 0.7, 0.97])
      expect(valueAt(back, 1 - t)).toBeCloseTo(valueAt(bent, t), 2);
    expect(rows(flippedInTime(back))).toEqual(rows(bent).map(([t, v, b], n) => [t, v, n ? b : 0]));
  });

  it("is turned upside down in its own range", () => {
    expect(flippedInValue(bent).points.map(({ value }) => value)).toEqual([1, 0, 0.8, 1]);
  });

  it("is stretched to an exact length, by beats to the last digit", () => {
    const beats = (16 * 60) / 90;
    const long = stretchedTo(bent, beats);
    expect(long.points.at(-1)?.time_s).toBe(beats);
    expect(long.points[2]?.time_s).toBeCloseTo(beats / 2, 9);
    const part = stretchedTo(bent, 0.1, [at(1), at(2)]);
    expect(part.points.map(({ time_s }) => time_s)).toEqual([0, 0.01, 0.11, 0.61]);
  });

  it("is scaled within its limits, takes another's timing and another's kind", () => {
    expect(scaledValues(curve([0, 24], [1, -4]), 0.5, "pitch").points[0]?.value).toBe(12);
    expect(scaledValues(bent, 3, "level").points[1]?.value).toBe(1);
    const timed = withTimingOf(bent, curve([0, 9], [0.2, 9]));
    expect(timed.points.map(({ time_s }) => time_s)).toEqual([0, 0.2, 0.69, 1.19]);
    expect(asKind(curve([0, -12], [1, 12]), "pitch", "level").points[0]?.value).toBe(0);
    expect(asKind(curve([0, 0], [1, 0.5]), "level", "pitch").points[1]?.value).toBe(12);
  });

  it("takes a stock shape at its own length and range", () => {
    const shape = curve([0, 0], [0.5, 1, 2], [1, 0]);
    expect(rows(shapeFitted(shape, curve([0, 24], [0.2, -6]), "pitch"))).toEqual([
      [0, -6, 0],
      [0.1, 24, 2],
      [0.2, -6, 0],
    ]);
  });
});

describe("decay and release", () => {
  const bell = curve([0, 0], [0.002, 1], [2, 0, 7]);

  it("a release like the decay has its time and bend", () => {
    expect(releaseLikeDecay(bell).release).toEqual([{ time_s: 1.998, value: 0, bend: 7 }]);
    const sustained = releaseLikeDecay(curve([0, 0], [0.01, 1], [0.51, 0.4, 3]));
    expect(sustained.release).toEqual([{ time_s: 0.5, value: 0, bend: 3 }]);
  });

  it("a longer decay leaves the attack as it was", () => {
    expect(rows(decayScaled(bell, "points", 2))).toEqual([
      [0, 0, 0],
      [0.002, 1, 0],
      [3.998, 0, 7],
    ]);
  });
});

describe("five numbers", () => {
  const five: FiveNumbers = {
    start: 0,
    attack_s: 0.01,
    attack_bend: -2,
    peak: 1,
    hold_s: 0.05,
    decay_s: 0.4,
    decay_bend: 4,
    sustain: 0.25,
    release_s: 0.3,
    release_bend: 3,
    end: 0,
  };

  it.each<[string, Partial<FiveNumbers>]>([
    ["all of them", {}],
    ["no attack", { attack_s: 0, attack_bend: 0 }],
    ["no hold", { hold_s: 0 }],
    ["a one-shot", { release_s: null, release_bend: 0, sustain: 0 }],
    ["a plain gate", { hold_s: 0, decay_s: 0, decay_bend: 0, sustain: 1 }],
  ])("there and back loses nothing: %s", (_, changes) => {
    const wanted = { ...five, ...changes };
    const back = fiveOfCurve(curveOfFive(wanted));
    expect(back).toEqual({ five: wanted, lost: [] });
  });

  it("says what they cannot say", () => {
    const rich: Curve = {
      ...curve([0, 0], [0.1, 0.4], [0.2, 1], [0.3, 0.8], [0.5, 0]),
      release: [
        { time_s: 0.1, value: 0.5, bend: 0 },
        { time_s: 0.2, value: 0, bend: 0 },
      ],
      loop: { start: 1, end: 2 },
    };
    expect(fiveOfCurve(rich).lost).toEqual([
      "1 point on the way up",
      "1 point on the way down",
      "the loop",
      "1 point of the release",
    ]);
  });

  it("tells when the decay has fallen by some dB", () => {
    const line = { ...five, attack_s: 0, hold_s: 0, decay_s: 1, decay_bend: 0, sustain: 0 };
    expect(fallTime(line, 20)).toBeCloseTo(0.9, 9);
    // e^(-7 x) is 20 dB down at ln(10) / 7; the bend's own end adds a little less.
    expect(fallTime({ ...line, decay_bend: 7 }, 20)).toBeCloseTo(Math.log(10) / 7, 2);
    expect(fallTime({ ...five, sustain: 0.5 }, 20)).toBeNull();
  });
});
