import { describe, expect, it } from "vitest";
import { TRYOUT_DEFAULTS } from "../api";
import { cueSheet } from "./gamePlayer";

describe("a cue sheet", () => {
  it("is a line a hit, with names that a table program takes as text", () => {
    const document = { ...TRYOUT_DEFAULTS.tryout, name: "Moth\nhouse" };
    const cue = { atS: 0.25, sample: 4, pitch: -0.5, gainDb: -3 };
    const lines = cueSheet(document, [
      { ...cue, name: 'Wing, "left"' },
      { ...cue, name: "=1+1" },
    ]).split("\r\n");
    expect(lines[0]).toBe("# Moth house");
    expect(lines[2]).toBe('1,0.2500,"Wing, ""left""",4,-0.500,-3.00');
    expect(lines[3]).toBe("2,0.2500,'=1+1,4,-0.500,-3.00");
  });
});
