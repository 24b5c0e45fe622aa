import { describe, expect, it } from "vitest";
import { isInside, placeOf, valueAtPlace } from "./rangeScale";

const lengths = { low: 0.1, high: 10, logarithmic: true, counts: [] };
const levels = { low: -40, high: 0, logarithmic: false, counts: [] };

describe("the scale of a range", () => {
  it("lies halfway at the geometric mean of lengths and at the mean of levels", () => {
    expect(placeOf(lengths, 1)).toBeCloseTo(0.5);
    expect(placeOf(levels, -20)).toBeCloseTo(0.5);
  });

  it.each([0, 0.25, 0.9, 1])("comes back from a place %s", (place) => {
    for (const facet of [lengths, levels])
      expect(placeOf(facet, valueAtPlace(facet, place))).toBeCloseTo(place);
  });

  it("holds what lies outside at its ends", () => {
    expect(placeOf(lengths, 100)).toBe(1);
    expect(valueAtPlace(levels, -1)).toBe(-40);
    expect(placeOf({ ...levels, high: -40 }, -40)).toBe(0);
  });

  it("knows what was chosen, open at either end", () => {
    expect(isInside(levels, undefined, 0.2)).toBe(true);
    expect(isInside(levels, [-20, null], 0.2)).toBe(false);
    expect(isInside(levels, [-20, null], 0.6)).toBe(true);
    expect(isInside(levels, [null, -30], 0.6)).toBe(false);
  });
});
