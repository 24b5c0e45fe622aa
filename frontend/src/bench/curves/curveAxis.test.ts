import { describe, expect, it } from "vitest";
import { curveAxis, roundedTime, roundedValue } from "./curveAxis";
import { bentWay, curveOutline } from "../../sound/curveEdits";
import { curveOf, emptySound, point } from "../../sound/edits";

const layer = emptySound("Test").layers[0];
if (!layer) throw new Error("the empty sound has a layer");

describe("the upright axis", () => {
  it.each(["level", "pitch"] as const)("finds the %s under each pixel", (name) => {
    const axis = curveAxis(layer[name], name, 120, null);
    for (const part of [0, 0.3, 1]) {
      const value = axis.low + part * (axis.high - axis.low);
      expect(axis.value(axis.y(value))).toBeCloseTo(value, 9);
    }
    expect(axis.value(-1000)).toBe(axis.high);
    expect(axis.value(1000)).toBe(axis.low);
  });

  it("leaves a flat pitch room on either side", () => {
    const axis = curveAxis(layer.pitch, "pitch", 120, null);
    expect(axis.low).toBeLessThanOrEqual(-12);
    expect(axis.high).toBeGreaterThanOrEqual(12);
  });

  it("shows every point of a steep pitch", () => {
    const steep = { ...layer, pitch: curveOf([point(0, 48), point(0.1, -7)]) };
    const axis = curveAxis(steep.pitch, "pitch", 120, null);
    expect(axis.y(48)).toBeGreaterThanOrEqual(9);
    expect(axis.y(-7)).toBeLessThanOrEqual(111);
  });

  it("keeps still while a point is dragged", () => {
    expect(curveAxis(layer.pitch, "pitch", 120, [-5, 5])).toMatchObject({ low: -5, high: 5 });
  });

  it("writes values out with their units", () => {
    expect(curveAxis(layer.level, "level", 120, null).format(0.5)).toBe("50 % · −6 dB");
    expect(curveAxis(layer.level, "level", 120, null).format(0)).toBe("0 % · −∞ dB");
    expect(curveAxis(layer.pitch, "pitch", 120, null).format(31)).toBe("+31 st");
  });
});

it("rounds to what is shown, and never before the start", () => {
  expect(roundedValue(0.12345, "level")).toBe(0.123);
  expect(roundedValue(-3.14159, "pitch")).toBe(-3.14);
  expect(roundedTime(-1)).toBe(0);
  expect(roundedTime(0.0283456)).toBe(0.02835);
});

describe("a bend", () => {
  it.each([-8, -1, 0, 1, 8])("of %d starts at 0 and ends at 1", (bend) => {
    expect(bentWay(0, bend)).toBeCloseTo(0);
    expect(bentWay(1, bend)).toBeCloseTo(1);
  });

  it("follows the exponential of its definition", () => {
    expect(bentWay(0.5, 4)).toBeCloseTo((1 - Math.exp(-2)) / (1 - Math.exp(-4)));
  });

  it("is drawn within its two points, and a step upright", () => {
    const drawn = curveOutline(
      curveOf([point(0, 0.2), point(0.1, 0.8, 5), point(0.1, 0.4)]),
      1,
      0.5,
    );
    const values = drawn.map(({ value }) => value);
    expect(Math.min(...values)).toBeCloseTo(0.2);
    expect(Math.max(...values)).toBeCloseTo(0.8);
    expect(drawn.filter(({ timeS }) => timeS === 0.1).map(({ value }) => value)).toEqual([
      expect.closeTo(0.8),
      expect.closeTo(0.4),
    ]);
    expect(drawn.at(-1)).toEqual({ timeS: 0.5, value: 0.4 });
  });
});
