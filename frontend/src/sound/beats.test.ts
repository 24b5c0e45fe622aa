import { describe, expect, it } from "vitest";
import { beatsOf, timePatch, withBeatTimes } from "./beats";
import { emptySound } from "./edits";

const start = emptySound("Beats");
const inBeats = { ...start, hit: { ...start.hit, ...timePatch(start.hit, "hold_s", 6, 12) } };

describe("times in beats", () => {
  it("follow the tempo, others stay", () => {
    const slow = withBeatTimes({ ...inBeats, tempo_bpm: 60 });
    expect(slow.hit.hold_s).toBe(12);
    expect(slow.layers).toBe(inBeats.layers);
    expect(withBeatTimes({ ...inBeats, tempo_bpm: 90 }).hit.hold_s).toBe(8);
  });

  it("leave a sound as it is where they agree", () => {
    expect(withBeatTimes(inBeats)).toBe(inBeats);
    expect(withBeatTimes(start)).toBe(start);
  });

  it("are told from seconds, and become seconds again", () => {
    expect(beatsOf(inBeats.hit, "hold_s")).toBe(12);
    expect(beatsOf(start.hit, "hold_s")).toBeUndefined();
    const again = { ...inBeats.hit, ...timePatch(inBeats.hit, "hold_s", 3) };
    expect(beatsOf(again, "hold_s")).toBeUndefined();
    expect(again.hold_s).toBe(3);
  });

  it("of points in curves move with the tempo", () => {
    const [layer] = inBeats.layers;
    if (!layer) throw new Error("no layer");
    const points = [
      { time_s: 0, value: 0, bend: 0 },
      { time_s: 2, value: 1, bend: 0, in_beats: { time_s: 4 } },
    ];
    const sound = { ...inBeats, layers: [{ ...layer, level: { ...layer.level, points } }] };
    const moved = withBeatTimes({ ...sound, tempo_bpm: 240 });
    expect(moved.layers[0]?.level.points.map(({ time_s }) => time_s)).toEqual([0, 1]);
  });
});
