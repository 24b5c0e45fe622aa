import { describe, expect, it } from "vitest";
import type { Processor } from "../../api/types";
import { emptySound, newProcessor } from "../edits";
import { PROCESSOR_NAMES } from "../processorNames";
import { compressedDb, effectGist, effectShape } from "./effectShapes";
import { filterDb, formantDb, type Filter, type Formant } from "./filterResponse";

const start = emptySound("Test");
const kinds = Object.keys(PROCESSOR_NAMES) as Processor["kind"][];

describe("pictures of processors", () => {
  it("stay within their frame for every effect", () => {
    for (const kind of kinds) {
      const part = newProcessor(start, kind);
      if (["filter", "drive", "comb", "formant"].includes(part.kind)) continue;
      const effect = part as Parameters<typeof effectShape>[0];
      for (let n = 0; n <= 50; n += 1) {
        const height = effectShape(effect, n / 50);
        expect(height).toBeGreaterThanOrEqual(0);
        expect(height).toBeLessThanOrEqual(1);
      }
      expect(Number.isFinite(effectGist(effect).value)).toBe(true);
    }
  });

  it("follow the compressor's static curve", () => {
    const hard = { threshold_db: -20, ratio: 4, knee_db: 0 };
    expect(compressedDb(-30, hard)).toBe(-30);
    expect(compressedDb(0, hard)).toBeCloseTo(-15, 9);
    expect(compressedDb(-20, { ...hard, knee_db: 12 })).toBeCloseTo(-21.125, 9);
  });

  it("show filters and formants at their corners", () => {
    const filter = newProcessor(start, "filter") as Filter;
    expect(filterDb(filter, filter.cutoff_hz)).toBeCloseTo(-3.01, 1);
    const formant = { ...newProcessor(start, "formant"), sharpness: 30 } as Formant;
    expect(formantDb(formant, formant.first_hz)).toBeCloseTo(0, 0);
    expect(formantDb(formant, 60)).toBeLessThan(-40);
  });
});
