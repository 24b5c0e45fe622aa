import { describe, expect, it } from "vitest";
import type { Processor } from "../../../api/types";
import { emptySound, newProcessor } from "../../../sound/edits";
import { processorName } from "../../../sound/processorNames";
import { compressedDb, type Effect, effectShape } from "./effectShapes";
import { bandDb, equaliserDb, type Equaliser } from "./equaliserResponse";
import { gist } from "./gist";
import { type Drive, transferAt } from "./transferCurves";
import { filterDb, formantDb, type Filter, type Formant } from "./filterResponse";

const start = emptySound("Test");
const kinds = Object.keys(processorName) as Processor["kind"][];

describe("pictures of processors", () => {
  it("stay within their frame for every effect", () => {
    for (const kind of kinds) {
      const part = newProcessor(start, kind);
      expect(gist(part)).not.toContain("NaN");
      if (["filter", "drive", "comb", "formant", "equaliser"].includes(part.kind)) continue;
      const effect = part as Effect;
      for (let n = 0; n <= 50; n += 1) {
        const height = effectShape(effect, n / 50);
        expect(height).toBeGreaterThanOrEqual(0);
        expect(height).toBeLessThanOrEqual(1);
      }
    }
  });

  it("follow the compressor's static curve", () => {
    const hard = { threshold_db: -20, ratio: 4, knee_db: 0 };
    expect(compressedDb(-30, hard)).toBe(-30);
    expect(compressedDb(0, hard)).toBeCloseTo(-15, 9);
    expect(compressedDb(-20, { ...hard, knee_db: 12 })).toBeCloseTo(-21.125, 9);
  });

  it("show an equaliser's bands as their prototypes", () => {
    const flat = newProcessor(start, "equaliser") as Equaliser;
    expect(equaliserDb(flat, 700)).toBeCloseTo(0, 9);
    const bell = { ...flat.band_4, gain_db: 9, frequency_hz: 1000 };
    expect(bandDb(bell, 1000)).toBeCloseTo(9, 9);
    expect(bandDb({ ...bell, response: "low_shelf" }, 10)).toBeCloseTo(9, 1);
    expect(bandDb({ ...bell, response: "high_shelf" }, 1000)).toBeCloseTo(4.5, 9);
    expect(bandDb({ ...bell, response: "low_cut", sharpness: 0.707 }, 1000)).toBeCloseTo(-3.01, 2);
  });

  it("show a drive's transfer curve without its offset", () => {
    const drive = { ...newProcessor(start, "drive"), drive_db: 0 } as Drive;
    expect(transferAt(drive, 0.5)).toBeCloseTo(Math.tanh(0.5), 9);
    for (const shape of ["tube", "hard", "fold", "sine_fold", "rectify", "drawn"] as const)
      expect(transferAt({ ...drive, shape, asymmetry: 0.5 }, 0)).toBeCloseTo(0, 9);
    expect(transferAt({ ...drive, shape: "drawn" }, 0.4)).toBeCloseTo(0.9, 9);
  });

  it("show filters and formants at their corners", () => {
    const filter = newProcessor(start, "filter") as Filter;
    expect(filterDb(filter, filter.cutoff_hz)).toBeCloseTo(-3.01, 1);
    const formant = { ...newProcessor(start, "formant"), sharpness: 30 } as Formant;
    expect(formantDb(formant, formant.first_hz)).toBeCloseTo(0, 0);
    expect(formantDb(formant, 60)).toBeLessThan(-40);
  });
});
