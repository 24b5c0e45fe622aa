import { describe, expect, it } from "vitest";
import type { Parameter } from "../../../api";
import { asBand, asCuts } from "./loopFilter";

const limits = {
  low: { minimum: 10, maximum: 2000 } as Parameter,
  high: { minimum: 200, maximum: 20000 } as Parameter,
};

describe("a loop's filters as a band", () => {
  it("are the same both ways", () => {
    const band = asBand({ low_cut_hz: 250, high_cut_hz: 4000 });
    expect(band).toEqual({ centreHz: 1000, octaves: 4 });
    expect(asCuts(band, limits)).toEqual({ low_cut_hz: 250, high_cut_hz: 4000 });
  });

  it("move together with the centre, and apart with the width", () => {
    expect(asCuts({ centreHz: 500, octaves: 2 }, limits)).toEqual({
      low_cut_hz: 250,
      high_cut_hz: 1000,
    });
  });

  it("stay within what each may be", () => {
    expect(asCuts({ centreHz: 100, octaves: 10 }, limits)).toEqual({
      low_cut_hz: 10,
      high_cut_hz: 3200,
    });
  });
});
