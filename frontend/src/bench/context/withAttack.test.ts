import { describe, expect, it } from "vitest";
import { LAYER_DEFAULTS, SOUND_DEFAULTS } from "../../api/generated/kinds";
import type { Curve, Sound } from "../../api";
import { withAttack } from "./withAttack";

const sound = (points: [number, number][]): Sound => ({
  ...SOUND_DEFAULTS,
  name: "Kick",
  layers: [
    {
      ...LAYER_DEFAULTS,
      id: "a",
      name: "A",
      source: { kind: "noise" } as Sound["layers"][number]["source"],
      level: {
        ...LAYER_DEFAULTS.level,
        points: points.map(([time_s, value]) => ({ time_s, value, bend: 0 })),
      } as Curve,
    },
  ],
});
const pointsOf = (one: Sound) =>
  one.layers[0]?.level.points.map(({ time_s, value }) => [Number(time_s.toFixed(6)), value]);

describe("a longer attack", () => {
  it("takes the later points along", () => {
    const now = sound([
      [0, 0],
      [0.002, 1],
      [0.1, 0.5],
      [0.4, 0],
    ]);
    expect(pointsOf(withAttack(now, 0.012))).toEqual([
      [0, 0],
      [0.012, 1],
      [0.11, 0.5],
      [0.41, 0],
    ]);
  });

  it("begins at silence where the curve began aloud", () => {
    const now = sound([
      [0, 1],
      [0.2, 0],
    ]);
    expect(pointsOf(withAttack(now, 0.01))).toEqual([
      [0, 0],
      [0.01, 1],
      [0.21, 0],
    ]);
  });

  it("leaves one that rises for longer", () => {
    const now = sound([
      [0, 0],
      [0.05, 1],
    ]);
    expect(withAttack(now, 0.02).layers[0]?.level).toBe(now.layers[0]?.level);
  });
});
