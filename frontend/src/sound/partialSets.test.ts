import { describe, expect, it } from "vitest";
import type { PartialSet } from "../api/types";
import {
  allAmplitudes,
  heardAmplitude,
  PARTIAL_COUNT,
  STARTING_SETS,
  withStroke,
} from "./partialSets";

const set = (change: Partial<PartialSet> = {}): PartialSet => ({
  amplitudes: [1, 1, 1, 1, 1, 1],
  phases_deg: [],
  tilt_db: 0,
  odd_even: 0,
  comb: 0,
  ...change,
});

describe("what is heard of a partial", () => {
  // The same cases stand in the engine's own tests.
  it("is tilted by decibels per octave", () => {
    const db = (k: number) => 20 * Math.log10(heardAmplitude(set({ tilt_db: -6 }), k));
    expect([db(1), db(2), db(4)].map((value) => Math.round(value * 1e6) / 1e6 + 0)).toEqual([
      0, -6, -12,
    ]);
  });

  it("is balanced between odd and even", () => {
    const heard = (odd_even: number) =>
      [1, 2, 3, 4].map((k) => heardAmplitude(set({ odd_even }), k));
    expect(heard(-1)).toEqual([1, 0, 1, 0]);
    expect(heard(1)).toEqual([1, 1, 0, 1]);
  });

  it("is nothing where the comb removes it, or nothing was drawn", () => {
    expect([1, 2, 3, 4, 5, 6].map((k) => heardAmplitude(set({ comb: 3 }), k))).toEqual([
      1, 1, 0, 1, 1, 0,
    ]);
    expect(heardAmplitude(set(), 7)).toBe(0);
  });
});

describe("a stroke", () => {
  const flat = allAmplitudes(set({ amplitudes: [] }));

  it("sets every bar on its way, in either direction", () => {
    const there = withStroke(flat, { bar: 2, level: 0 }, { bar: 6, level: 1 });
    expect(there.slice(1, 8)).toEqual([0, 0, 0.25, 0.5, 0.75, 1, 0]);
    expect(withStroke(flat, { bar: 6, level: 1 }, { bar: 2, level: 0 })).toEqual(there);
  });

  it("sets a single bar to where the hand ends, within 0 and 1", () => {
    expect(withStroke(flat, { bar: 3, level: 0.2 }, { bar: 3, level: 0.8 })[3]).toBe(0.8);
    expect(withStroke(flat, { bar: 3, level: 0 }, { bar: 3, level: 7 })[3]).toBe(1);
  });
});

it.each(STARTING_SETS)("the set $name can be sent as it is", ({ amplitudes }) => {
  expect(amplitudes.length).toBeLessThanOrEqual(PARTIAL_COUNT);
  expect(Math.max(...amplitudes)).toBe(1);
  expect(Math.min(...amplitudes)).toBeGreaterThanOrEqual(0);
});
