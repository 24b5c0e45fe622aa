import { describe, expect, it } from "vitest";
import type { Hit } from "../../api";
import { NO_LOOP, hitWithLoop } from "./loop";

const hit: Hit = {
  note: 60,
  velocity: 100,
  hold_s: 1,
  number: 1,
  loop_s: 0,
  further: [],
  in_beats: {},
};

describe("hitWithLoop", () => {
  it("keeps beats and seconds of a loop side by side", () => {
    const looped = hitWithLoop(hit, { on: true, lengthS: 10, beats: 16 });
    expect(looped.loop_s).toBe(10);
    expect(looped.in_beats).toEqual({ loop_s: 16 });
  });

  it("leaves a hit without a loop as it is", () => {
    expect(hitWithLoop(hit, NO_LOOP).loop_s).toBe(0);
    const again = hitWithLoop(hitWithLoop(hit, { on: true, lengthS: 10, beats: 16 }), NO_LOOP);
    expect(again.in_beats).toEqual({});
  });
});
