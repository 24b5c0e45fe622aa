import { expect, it } from "vitest";
import type { ComparedAnswer } from "../api";
import { FLOOR_DB, groupLevels, pitchAt, pitchRange } from "./levels";

type SideAnswer = ComparedAnswer["sides"][number];

/** A side with so many dB in each band and step, and a pitch line. */
function side(levelsDb: number[][], line: [number, number][] = []): SideAnswer {
  const bytes = levelsDb.flat().map((db) => String.fromCharCode(Math.round((db + 120) * 2)));
  return {
    levels: { bands: levelsDb.length, steps: levelsDb[0]?.length ?? 0, data: btoa(bytes.join("")) },
    pitch: { time_s: line.map(([at]) => at), hz: line.map(([, hz]) => hz) },
  } as SideAnswer;
}

const EDGES = [25, 150, 1000, 18000];
const WHOLE = { fromHz: 0, toHz: Infinity };

it("adds the power of the bands of a group", () => {
  const one = side([
    [-20, -60],
    [-20, -120],
    [-40, -120],
  ]);
  const [first, second] = groupLevels(one, EDGES, { fromHz: 0, toHz: 1000 });
  expect(first).toBeCloseTo(-17, 1);
  expect(second).toBeCloseTo(-60, 1);
  expect(groupLevels(one, EDGES, WHOLE)[0]).toBeCloseTo(-16.97, 1);
  expect(groupLevels(one, EDGES, { fromHz: 1000, toHz: Infinity })[1]).toBe(FLOOR_DB);
});

it("reads the pitch nearest to a moment, where one is near", () => {
  const one = side(
    [[0]],
    [
      [0.1, 50],
      [0.2, 60],
    ],
  );
  expect(pitchAt(one, 0.13)).toBe(50);
  expect(pitchAt(one, 0.16)).toBe(60);
  expect(pitchAt(one, 0.5)).toBeNull();
});

it("shows an octave of pitch at least", () => {
  const { low, high } = pitchRange([side([[0]], [[0, 100]])]) ?? { low: 0, high: 0 };
  expect(high / low).toBeGreaterThan(1.9);
  expect(pitchRange([side([[0]])])).toBeNull();
});
