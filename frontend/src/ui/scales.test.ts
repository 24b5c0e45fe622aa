import { describe, expect, it } from "vitest";
import { fromFraction, settled, toFraction } from "./scales";
import { boundedView, ticks, timeScale, zoomed } from "./timeScale";

const ranges = [
  { minimum: -60, maximum: 60, scale: "linear" },
  { minimum: 10, maximum: 20000, scale: "log" },
  { minimum: 0, maximum: 60, scale: "time" },
] as const;

describe.each(ranges)("a $scale range", (range) => {
  it.each([0, 0.1, 0.5, 0.99, 1])("comes back from fraction %d", (part) => {
    expect(toFraction(fromFraction(part, range), range)).toBeCloseTo(part, 9);
  });

  it("stays within its ends", () => {
    expect(fromFraction(-1, range)).toBeCloseTo(range.minimum);
    expect(fromFraction(2, range)).toBeCloseTo(range.maximum);
  });
});

it("settles values on what a field shows", () => {
  const parameter = {
    name: "x",
    label: "X",
    unit: "st",
    minimum: -60,
    maximum: 60,
    default: 0,
    scale: "linear",
    step: 1,
    whole: false,
    help: "",
  } as const;
  expect(settled(3.14159, parameter)).toBe(3.1);
  expect(settled(99, parameter)).toBe(60);
  expect(settled(3.6, { ...parameter, whole: true })).toBe(4);
});

describe("the ruler", () => {
  it("finds the moment under each pixel", () => {
    const scale = timeScale({ startS: 0.1, endS: 0.6 }, 800);
    for (const timeS of [0.1, 0.25, 0.6]) expect(scale.time(scale.x(timeS))).toBeCloseTo(timeS, 9);
  });

  it("zooms around a moment that keeps its place", () => {
    const view = { startS: 0, endS: 1 };
    const closer = zoomed(view, 0.5, 0.4);
    expect((0.4 - closer.startS) / (closer.endS - closer.startS)).toBeCloseTo(0.4, 9);
  });

  it("never leaves what can be shown", () => {
    expect(boundedView({ startS: -1, endS: 0 })).toEqual({ startS: 0, endS: 1 });
    const tiny = boundedView({ startS: 0.5, endS: 0.5 });
    expect(tiny.endS - tiny.startS).toBeCloseTo(0.005);
  });

  it.each([0.02, 0.6, 1.9, 12, 60])("marks round times over %d s", (endS) => {
    const scale = timeScale({ startS: 0, endS }, 800);
    const marks = ticks(scale);
    expect(marks.length).toBeGreaterThan(3);
    expect(new Set(marks.map(({ label }) => label)).size).toBe(marks.length);
    const gaps = marks
      .slice(1)
      .map((mark, n) => scale.x(mark.timeS) - scale.x(marks[n]?.timeS ?? 0));
    expect(Math.min(...gaps)).toBeGreaterThan(55);
  });
});
