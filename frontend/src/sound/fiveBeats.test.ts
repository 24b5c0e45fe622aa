import { describe, expect, it } from "vitest";
import type { Sound } from "../api";
import { withBeatTimes } from "./beats";
import { beatsOfFive, withFiveNumber } from "./fiveBeats";
import { curveOfFive } from "./fiveNumbers";

const five = {
  start: 0,
  attack_s: 0.5,
  attack_bend: 0,
  peak: 1,
  hold_s: 0,
  decay_s: 1,
  decay_bend: 2,
  sustain: 0.4,
  release_s: 0.25,
  release_bend: 0,
  end: 0,
};
const plain = curveOfFive(five);

describe("five numbers in beats", () => {
  it("are kept as beats from one point on a beat to the next", () => {
    const attacked = withFiveNumber(plain, "attack_s", 0.5, 1);
    const whole = withFiveNumber(attacked, "decay_s", 2, 4);
    expect(whole.points.map((one) => one.in_beats?.time_s)).toEqual([undefined, 1, 5]);
    expect(beatsOfFive(whole)).toEqual({ attack_s: 1, decay_s: 4 });
  });

  it("stay so when another number is set, and the release counts from the hold's end", () => {
    const released = withFiveNumber(plain, "release_s", 0.25, 0.5);
    const softer = withFiveNumber(released, "sustain", 0.2);
    expect(beatsOfFive(softer)).toEqual({ release_s: 0.5 });
    expect(softer.points.at(-1)?.value).toBe(0.2);
  });

  it("follow an attack in seconds", () => {
    const mixed = withFiveNumber(plain, "decay_s", 2, 4);
    expect(beatsOfFive(mixed)).toEqual({ decay_s: 4 });
    expect(mixed.points.at(-1)).toMatchObject({
      time_s: 2.5,
      in_beats: { time_s: 4 },
      and_seconds: { time_s: 0.5 },
    });
    const longer = withFiveNumber(mixed, "attack_s", 0.7);
    expect(beatsOfFive(longer)).toEqual({ decay_s: 4 });
    expect(longer.points.at(-1)?.and_seconds).toEqual({ time_s: 0.7 });
  });

  it("are followed by a decay in seconds", () => {
    const attacked = withFiveNumber(plain, "attack_s", 0.5, 1);
    expect(attacked.points.at(-1)).toMatchObject({
      in_beats: { time_s: 1 },
      and_seconds: { time_s: 1 },
    });
    expect(beatsOfFive(attacked)).toEqual({ attack_s: 1 });
  });

  it("move together with the tempo, and the seconds between them do not", () => {
    const mixed = withFiveNumber(plain, "decay_s", 2, 4);
    const sound = { tempo_bpm: 60, layers: [{ level: mixed }] } as unknown as Sound;
    const [layer] = withBeatTimes(sound).layers;
    expect(layer?.level.points.at(-1)?.time_s).toBe(4.5);
  });

  it("become seconds again when they are typed so", () => {
    const attacked = withFiveNumber(plain, "attack_s", 0.5, 1);
    const typed = withFiveNumber(attacked, "attack_s", 0.3);
    expect(beatsOfFive(typed)).toEqual({});
    expect(typed.points.map((one) => one.in_beats)).toEqual([undefined, undefined, undefined]);
  });
});
