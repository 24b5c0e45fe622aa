import { describe, expect, it } from "vitest";
import type { Sound } from "../api/types";
import { withChain } from "./chains";
import { emptySound, newProcessor } from "./edits";
import { hasTimesInSeconds, withStretchedTimes } from "./tempoStretch";

describe("a change of the tempo", () => {
  it("stretches what lies in time in seconds, and leaves beats and short constants", () => {
    const empty = emptySound("Test");
    const chain = [newProcessor(empty, "delay"), newProcessor(empty, "compressor")];
    const start = withChain(empty, chain, "main");
    const [layer] = start.layers;
    if (!layer) throw new Error("a new sound has a layer");
    const level = {
      ...layer.level,
      points: [
        { time_s: 0, value: 0, bend: 0 },
        { time_s: 0.5, value: 1, bend: 0 },
        { time_s: 1, value: 0.5, bend: 0, in_beats: { time_s: 2 } },
      ],
    };
    const sound: Sound = { ...start, layers: [{ ...layer, delay_s: 0.1, level }] };
    const slower = withStretchedTimes(sound, 2);
    expect(slower.layers[0]?.level.points.map(({ time_s }) => time_s)).toEqual([0, 1, 1]);
    expect(slower.layers[0]?.delay_s).toBe(0.2);
    expect(slower.hit.hold_s).toBeCloseTo(2 * sound.hit.hold_s, 9);
    const [delay, compressor] = slower.main.chain;
    const [before] = chain;
    if (delay?.kind !== "delay" || before?.kind !== "delay") throw new Error("a delay");
    expect(delay.time_s).toBeCloseTo(2 * before.time_s, 9);
    expect(compressor).toEqual(chain[1]);
    expect(hasTimesInSeconds(sound)).toBe(true);
  });
});
