import { describe, expect, it } from "vitest";
import { PROCESSOR_DEFAULTS } from "../../../api/generated/kinds";
import engine from "./engineResponses.json";
import { bandDb, type Band } from "./equaliserResponse";
import {
  combDb,
  filterDb,
  formantDb,
  type Comb,
  type Filter,
  type Formant,
} from "./filterResponse";
import { transferAt, type Drive } from "./transferCurves";

/** Below it no picture shows anything. */
const FLOOR_DB = -48;
const shown = (db: number) => Math.max(FLOOR_DB, db);

function furthest(drawn: (hz: number) => number, heard: number[]): number {
  return Math.max(...engine.hz.map((hz, n) => Math.abs(shown(drawn(hz)) - shown(heard[n] ?? 0))));
}

describe("what is drawn at once is what the engine does", () => {
  it.each(engine.filter.map((one) => [JSON.stringify(one.part), one] as const))(
    "filter %s",
    (_, { part, db }) => {
      const filter = { id: "p", ...PROCESSOR_DEFAULTS.filter, ...part } as Filter;
      expect(furthest((hz) => filterDb(filter, hz), db)).toBeLessThan(0.5);
    },
  );

  it.each(engine.formant.map((one) => [JSON.stringify(one.part), one] as const))(
    "formant %s",
    (_, { part, db }) => {
      const formant: Formant = { id: "p", ...PROCESSOR_DEFAULTS.formant, ...part };
      expect(furthest((hz) => formantDb(formant, hz), db)).toBeLessThan(0.5);
    },
  );

  it.each(engine.equaliser.map((one) => [JSON.stringify(one.band), one] as const))(
    "band %s",
    (_, { band, db }) => {
      expect(furthest((hz) => bandDb(band as Band, hz), db)).toBeLessThan(0.5);
    },
  );

  it.each(engine.comb.map((one) => [JSON.stringify(one.part), one] as const))(
    "comb %s",
    (_, { part, db }) => {
      const comb: Comb = { id: "p", ...PROCESSOR_DEFAULTS.comb, ...part };
      engine.multiples.forEach((multiple, n) => {
        const [drawn, heard] = [shown(combDb(comb, multiple)), shown(db[n] ?? 0)];
        expect(Math.abs(drawn - heard)).toBeLessThan(0.5);
      });
    },
  );

  it.each(engine.drive.map((one) => [JSON.stringify(one.part), one] as const))(
    "drive %s",
    (_, { part, out }) => {
      const drive = { id: "p", ...PROCESSOR_DEFAULTS.drive, ...part } as Drive;
      engine.levels.forEach((x, n) => expect(transferAt(drive, x)).toBeCloseTo(out[n] ?? 0, 2));
    },
  );
});
