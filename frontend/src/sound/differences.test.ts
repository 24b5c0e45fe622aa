import { describe, expect, it } from "vitest";
import type { Declarations, Parameter, PartDeclaration, Sound } from "../api/types";
import { differences } from "./differences";
import { emptySound, newProcessor, withLayer } from "./edits";
import { withDuplicate } from "./duplicate";

const parameter = (name: string, label: string, unit: Parameter["unit"]): Parameter => ({
  name,
  label,
  unit,
  minimum: -1000,
  maximum: 1000,
  default: 0,
  scale: "linear",
  step: 1,
  whole: false,
  help: "",
  followed: false,
});
const part = (...parameters: Parameter[]): PartDeclaration => ({
  help: "",
  parameters,
  choices: [],
});

const declarations: Declarations = {
  sound: part(parameter("tempo_bpm", "Tempo", "bpm")),
  hit: part(parameter("note", "Note", "note")),
  layer: part(parameter("level_db", "Level", "dB")),
  main: part(parameter("level_db", "Main level", "dB")),
  curve_point: part(),
  unison: part(parameter("voices", "Voices", "")),
  partials: part(),
  link: part(),
  modulator: part(),
  send: part(),
  branch: part(),
  common_pitch: parameter("pitch_st", "Common pitch", "st"),
  pitch: parameter("pitch_st", "Pitch", "st"),
  bus: part(parameter("level_db", "Bus level", "dB")),
  playing: part(),
  pattern: part(),
  further_note: part(),
  movers: { lfo: part(parameter("rate_hz", "Rate", "Hz")) } as Declarations["movers"],
  sources: {
    tone: part(parameter("transpose_st", "Transpose", "st")),
    noise: part(),
  } as Declarations["sources"],
  mode_change: part(),
  processors: {
    filter: part(parameter("cutoff_hz", "Cutoff", "Hz")),
    drive: part(parameter("level_db", "Output level", "dB")),
  } as Declarations["processors"],
};

const start = emptySound("Start");
const changes = (after: Sound, before: Sound = start) => differences(before, after, declarations);

describe("differences", () => {
  it("says nothing of equal sounds", () => {
    expect(changes(structuredClone(start))).toEqual([]);
  });

  it("names owner, field and both values with their unit", () => {
    expect(changes(withLayer(start, "tone-1", (layer) => ({ ...layer, level_db: -9 })))).toEqual([
      "Sine: Level −6 dB → −9 dB",
    ]);
    expect(changes({ ...start, main: { ...start.main, level_db: 2 } })).toEqual([
      "Main: Main level 0 dB → +2 dB",
    ]);
    expect(changes({ ...start, hit: { ...start.hit, note: 31 } })).toEqual(["Hit: Note C3 → G1"]);
    expect(changes({ ...start, tempo_bpm: 90 })).toEqual(["Sound: Tempo 120 → 90"]);
  });

  it("looks into sources and their parts", () => {
    const louder = withLayer(start, "tone-1", (layer) => {
      if (layer.source.kind !== "tone") return layer;
      const unison = { ...layer.source.unison, voices: 7 };
      return { ...layer, source: { ...layer.source, transpose_st: -12, unison } };
    });
    expect(changes(louder)).toEqual(["Sine: Transpose 0 st → −12 st", "Sine: Voices 1 → 7"]);
  });

  it("tells changed curves and switches", () => {
    const changed = withLayer(start, "tone-1", (layer) => ({
      ...layer,
      mute: true,
      pitch: layer.level,
    }));
    expect(changes(changed).slice(0, 2)).toEqual([
      "Sine: mute off → on",
      "Sine: pitch attack 0 ms → 2 ms",
    ]);
  });

  it("tells a curve by its five numbers, or by its points where those do not say all", () => {
    const decay = (time_s: number, more: { time_s: number; value: number; bend: number }[] = []) =>
      withLayer(start, "tone-1", (layer) => ({
        ...layer,
        name: "Body",
        level: {
          points: [
            { time_s: 0, value: 0, bend: 0 },
            { time_s: 0.002, value: 1, bend: 0 },
            ...more,
            { time_s, value: 0, bend: 3 },
          ],
          release: [],
          loop: null,
        },
      }));
    expect(changes(decay(0.282), decay(0.342))).toEqual(["Body: decay 340 ms → 280 ms"]);
    const knee = [{ time_s: 0.1, value: 0.4, bend: 0 }];
    expect(changes(decay(0.282, knee), decay(0.342, knee))).toEqual([
      "Body: level curve, point 4 342 ms → 282 ms",
    ]);
    expect(changes(decay(0.282, knee), decay(0.282))).toEqual(["Body: level curve"]);
  });

  it("tells what was added, removed and put in another order", () => {
    const { sound } = withDuplicate(start, "tone-1");
    expect(changes(sound)).toEqual(["Sine copy added"]);
    expect(changes(start, sound)).toEqual(["Sine copy removed"]);
    expect(changes({ ...sound, layers: [...sound.layers].reverse() }, sound)).toEqual([
      "Order changed",
    ]);
    const chain = [newProcessor(start, "drive")];
    expect(changes({ ...start, main: { ...start.main, chain } })).toEqual(["Drive added"]);
  });
});
