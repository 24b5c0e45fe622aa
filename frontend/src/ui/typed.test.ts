import { describe, expect, it } from "vitest";
import type { Parameter } from "../api/types";
import { readTyped } from "./typed";
import { parseValue } from "./units";

const number = (unit: Parameter["unit"], minimum: number, maximum: number): Parameter => ({
  name: "value",
  label: "Value",
  unit,
  minimum,
  maximum,
  default: minimum,
  scale: "linear",
  step: 1,
  whole: false,
  help: "",
});
const TIME = number("s", 0, 60);
const CUTOFF = number("Hz", 20, 20000);
const MIX = number("percent", 0, 1);
const context = { tempoBpm: 120 };

describe("a bare number", () => {
  it.each<[string, Parameter, number, number]>([
    ["4", TIME, 3, 4],
    ["4", TIME, 0.3, 0.004],
    ["250", TIME, 3, 0.25],
    ["4", CUTOFF, 1200, 4000],
    ["800", CUTOFF, 1200, 800],
    ["800", CUTOFF, 500, 800],
    ["27", MIX, 0.5, 0.27],
    ["27 %", MIX, 0.5, 0.27],
    ["0.27", MIX, 0.5, 0.0027],
  ])("%s in a field of %o that shows %s is %s", (text, parameter, shown, wanted) => {
    const read = readTyped(text, parameter, shown, context);
    expect(read.ok && read.value).toBeCloseTo(wanted, 9);
  });

  it("is one of beats where the field shows beats", () => {
    const read = readTyped("2", TIME, 1, { ...context, inBeats: true });
    expect(read).toEqual({ ok: true, value: 1, beats: 2 });
  });

  it.each<[string, Parameter, string]>([
    ["loud", CUTOFF, "20.00 Hz to 20.0 kHz"],
    ["90 kHz", CUTOFF, "20.00 Hz to 20.0 kHz"],
    ["140", MIX, "0 % to 100 %"],
    ["-3 ms", TIME, "0 ms to 60 s"],
  ])("%s is refused with unit and range", (text, parameter, range) => {
    const read = readTyped(text, parameter, parameter.minimum, context);
    expect(read).toMatchObject({ ok: false, message: expect.stringContaining(range) as string });
  });
});

describe("note values", () => {
  it.each<[string, number]>([
    ["1/4", 1],
    ["3/8", 1.5],
    ["1/8t", 1 / 3],
    ["1/8.", 0.75],
    ["1/16d", 0.375],
    ["1/1", 4],
  ])("%s is %s beats", (text, beats) => {
    expect(parseValue(text, "beat", context)).toMatchObject({ ok: true, value: beats });
    expect(parseValue(text, "s", context)).toEqual({ ok: true, value: beats / 2, beats });
  });
});

describe("a pitch in semitones", () => {
  it.each<[string, number]>([
    ["440 Hz", 12],
    ["A4", 12],
    ["0.11 kHz", -12],
    ["7", 7],
    ["2 oct", 24],
  ])("%s over 220 Hz is %s st", (text, st) => {
    const read = parseValue(text, "st", { ...context, baseHz: 220 });
    expect(read.ok && read.value).toBeCloseTo(st, 9);
  });

  it("takes no note where the pitch at 0 st is not known", () => {
    const read = parseValue("A4", "st", { ...context, baseHz: null });
    expect(read).toMatchObject({
      ok: false,
      message: expect.stringContaining("semitones") as string,
    });
  });
});
