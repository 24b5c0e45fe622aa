import { describe, expect, it } from "vitest";
import type { PlanNumber } from "../api";
import { axisCount, axisText, readAxis, readSpread, spreadText } from "./typedRanges";

const number = (more: Partial<PlanNumber>): PlanNumber => ({
  target: "a.b",
  owner: "A",
  label: "B",
  unit: "s",
  scale: "time",
  minimum: 0,
  maximum: 10,
  whole: false,
  base: 0.22,
  ...more,
});

describe("an axis as it is typed", () => {
  it.each([
    ["60, 90, 127", "velocity", { values: [60, 90, 127] }],
    ["1–4", "hit", { first: 1, last: 4, step: 1 }],
    ["1-4", "hit", { first: 1, last: 4, step: 1 }],
    ["A0–C8", "note", { first: 21, last: 108, step: 1 }],
    ["36 to 60 by 3", "note", { first: 36, last: 60, step: 3 }],
    ["0, 50, 100 %", "macro", { values: [0, 0.5, 1] }],
    ["50 ms, 0.5 s", "hold", { values: [0.05, 0.5] }],
    ["44100, 48 kHz", "rate", { values: [44100, 48000] }],
    ["", "note", { values: [] }],
  ] as const)("%s", (text, kind, wanted) => {
    expect(readAxis(text, kind)).toMatchObject({ ok: true, value: wanted });
  });
  it.each([
    ["4–1", "hit"],
    ["loud", "velocity"],
    ["1–4 by 0", "hit"],
  ] as const)("refuses %s", (text, kind) => {
    expect(readAxis(text, kind).ok).toBe(false);
  });
  it("comes back as it was", () => {
    for (const [text, kind] of [
      ["60, 90, 127", "velocity"],
      ["A0–C8", "note"],
      ["C2–C4 by 3", "note"],
    ] as const) {
      const read = readAxis(text, kind);
      expect(read.ok && axisText({ kind, ...read.value })).toBe(text);
    }
  });
  it("is counted", () => {
    const read = readAxis("A0–C8", "note");
    expect(read.ok && axisCount({ kind: "note", ...read.value })).toBe(88);
  });
});

describe("a spread as it is typed", () => {
  it("takes two ends with the unit once, and widths around the value", () => {
    expect(readSpread("160–310 ms", number({}))).toEqual({
      ok: true,
      value: { low: 0.16, high: 0.31 },
    });
    const around = readSpread("±50 %", number({}));
    expect(around.ok && [around.value.low, around.value.high]).toEqual([
      expect.closeTo(0.11),
      expect.closeTo(0.33),
    ]);
    const pitch = number({ unit: "st", base: 0, minimum: -120, maximum: 120 });
    expect(readSpread("±0.6 st", pitch)).toEqual({ ok: true, value: { low: -0.6, high: 0.6 } });
    expect(spreadText({ low: -0.6, high: 0.6 }, pitch)).toBe("±0.6 st");
    const colour = number({ unit: "dB", base: -3 });
    const written = spreadText({ low: -5.1, high: -2.9 }, colour);
    expect(written).toBe("−5.1 dB … −2.9 dB");
    expect(readSpread(written, colour)).toEqual({ ok: true, value: { low: -5.1, high: -2.9 } });
    expect(readSpread("−5 … 0", colour)).toEqual({ ok: true, value: { low: -5, high: 0 } });
  });
  it.each(["160", "310–160 ms", "loud–soft"])("refuses %s", (text) => {
    expect(readSpread(text, number({})).ok).toBe(false);
  });
});
