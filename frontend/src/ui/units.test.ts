import { describe, expect, it } from "vitest";
import { formatValue, parseValue, rangeProblem, type Unit } from "./units";

const context = { tempoBpm: 120 };
const read = (text: string, unit: Unit) => parseValue(text, unit, context);

describe("parseValue", () => {
  it.each<[string, Unit, number]>([
    ["55", "Hz", 55],
    ["55 Hz", "Hz", 55],
    ["1.2k", "Hz", 1200],
    ["1,5 kHz", "Hz", 1500],
    ["A1", "Hz", 55],
    ["-24 st", "st", -24],
    ["−24 st", "st", -24],
    ["2 oct", "st", 24],
    ["28 ms", "s", 0.028],
    ["28", "s", 0.028],
    ["1.2 s", "s", 1.2],
    ["3/8 beat", "s", 0.1875],
    ["16 beats", "s", 8],
    ["4 bars", "s", 8],
    ["1 bar at 60", "s", 4],
    ["16 beats at 90", "s", 10.6667],
    ["-6 dB", "dB", -6],
    ["50 %", "percent", 0.5],
    ["50", "percent", 0.5],
    ["90°", "deg", 90],
    ["G1", "note", 31],
    ["49 Hz", "note", 31],
    ["60", "note", 60],
    ["+.5", "", 0.5],
  ])("reads %s in %s", (text, unit, expected) => {
    const parsed = read(text, unit);
    expect(parsed.ok && parsed.value).toBeCloseTo(expected, 3);
  });

  it.each<[string, Unit]>([
    ["", "Hz"],
    ["loud", "dB"],
    ["5 dB", "Hz"],
    ["1/0", "st"],
    ["H2", "note"],
    ["G1", "dB"],
  ])("refuses %s in %s with an example", (text, unit) => {
    expect(read(text, unit)).toMatchObject({ ok: false });
  });
});

describe("formatValue", () => {
  it.each<[number, Unit, string]>([
    [3200, "Hz", "3.20 kHz"],
    [49.0, "Hz", "49.00 Hz"],
    [0.028, "s", "28 ms"],
    [0.0005, "s", "0.5 ms"],
    [1.25, "s", "1.25 s"],
    [31, "st", "+31 st"],
    [-6, "dB", "−6 dB"],
    [0, "dB", "0 dB"],
    [-0.001, "dB", "0 dB"],
    [0.5, "percent", "50 %"],
    [31, "note", "G1"],
    [100, "", "100"],
    [3.5, "", "3.5"],
  ])("writes %d %s as %s", (value, unit, text) => {
    expect(formatValue(value, unit)).toBe(text);
  });

  it.each<[number, Unit]>([
    [0.0283, "s"],
    [-17.5, "st"],
    [0.335, "percent"],
    [440, "Hz"],
    [-9.3, "dB"],
  ])("what it writes of %d %s is read back", (value, unit) => {
    const parsed = read(formatValue(value, unit), unit);
    expect(parsed.ok && parsed.value).toBeCloseTo(value, 3);
  });
});

it("tells the range in the field's unit", () => {
  const parameter = {
    name: "x",
    label: "X",
    unit: "dB",
    minimum: -48,
    maximum: 24,
    default: 0,
    scale: "linear",
    step: 1,
    whole: false,
    help: "",
  } as const;
  expect(rangeProblem(30, parameter)).toBe("−48 dB to +24 dB");
  expect(rangeProblem(24, parameter)).toBeNull();
});
