import { describe, expect, it } from "vitest";
import { hzText, lengthText, levelText, matchedGainDb, noteText, sampleUrl } from "./figures";

describe("figures of a sample", () => {
  it.each([
    [0.0121, "12 ms"],
    [0.9994, "999 ms"],
    [1, "1.00 s"],
    [12.345, "12.35 s"],
  ])("writes a length of %s as %s", (seconds, text) => expect(lengthText(seconds)).toBe(text));

  it.each([
    [-12.34, "dB", "−12.3 dB"],
    [0, "LUFS", "0.0 LUFS"],
    [-144, "dB", "silent"],
    [-200, "dBTP", "silent"],
  ])("writes a level of %s %s as %s", (level, unit, text) =>
    expect(levelText(level, unit)).toBe(text),
  );

  it.each([
    [55, "55 Hz"],
    [999.4, "999 Hz"],
    [1234, "1.23 kHz"],
  ])("writes a frequency of %s as %s", (hz, text) => expect(hzText(hz)).toBe(text));

  it("writes a note with what lies beside it, and a dash where there is none", () => {
    expect(noteText({ note: "G1", cents: -12.4 })).toContain("G1");
    expect(noteText({ note: null, cents: null })).toBe("–");
    expect(noteText({ note: "A4", cents: null })).toBe("A4");
  });

  it("plays what is louder than the matched loudness softer, and nothing louder", () => {
    expect(matchedGainDb(-13)).toBe(-10);
    expect(matchedGainDb(-23)).toBe(0);
    expect(matchedGainDb(-40)).toBe(0);
  });

  it("names a version in a file's address, so that it can be kept", () => {
    expect(sampleUrl({ id: 3, version: 5 })).toMatch(/\/3\/file.*version=5$/);
  });
});
