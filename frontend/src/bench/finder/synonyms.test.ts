import { beforeEach, describe, expect, it } from "vitest";
import { MOVER_DEFAULTS, PROCESSOR_DEFAULTS, SOURCE_DEFAULTS } from "../../api/generated/kinds";
import type { Declarations } from "../../api/types";
import { emptySound } from "../../sound/edits";
import { useBench } from "../../sound/store";
import { entriesFor, found } from "./entries";
import synonyms from "./synonyms.json";

const nothing = { help: "", parameters: [], choices: [] };
const parameter = { name: "pitch_st", label: "Pitch", unit: "st" } as never;
const declarations = {
  ...Object.fromEntries(
    ["layer", "main", "unison", "partials", "modulator", "send", "branch", "bus"].map((name) => [
      name,
      nothing,
    ]),
  ),
  sources: { tone: nothing },
  pitch: parameter,
  common_pitch: parameter,
  processors: {},
  movers: {},
} as unknown as Declarations;

const entries = () =>
  entriesFor({
    finding: { mode: "all" },
    sound: emptySound("Test"),
    declarations,
    chains: [],
    sounds: [],
    openSound: () => undefined,
  });

/** What a designer types, and what must be among the first five. */
const WORDS: [string, string][] = [
  ["string", "Add layer: struck body"],
  ["string", "Add Resonators"],
  ["pluck", "Add layer: struck body"],
  ["karplus", "Add layer: struck body"],
  ["mallet", "Add layer: struck body"],
  ["marimba", "Add layer: struck body"],
  ["membrane", "Add layer: struck body"],
  ["glass", "Add layer: struck body"],
  ["buzz", "Add Drive"],
  ["metal", "Add Comb filter"],
  ["metallic", "Add Frequency shifter"],
  ["ring mod", "Add Frequency shifter"],
  ["robot", "Add Frequency shifter"],
  ["cabinet", "Add Convolution"],
  ["cab", "Add Convolution"],
  ["ir", "Add Convolution"],
  ["impulse", "Add Convolution"],
  ["send", "Add bus"],
  ["aux", "Add bus"],
  ["return", "Add bus"],
  ["group", "Add bus"],
  ["submix", "Add bus"],
  ["parallel", "Add Fork"],
  ["parallel", "Add bus"],
  ["dry", "Add Fork"],
  ["echo", "Add Delay"],
  ["slapback", "Add Delay"],
  ["dub", "Add Delay"],
  ["ping-pong", "Add Delay"],
  ["tape", "Add Delay"],
  ["sidechain", "Add Compressor"],
  ["sidechain", "Add mover: Follower"],
  ["ducking", "Add mover: Follower"],
  ["pump", "Add Compressor"],
  ["glue", "Add Compressor"],
  ["crush", "Add Bit and rate reduction"],
  ["bitcrusher", "Add Bit and rate reduction"],
  ["8-bit", "Add Bit and rate reduction"],
  ["chiptune", "Add Bit and rate reduction"],
  ["lo-fi", "Add Bit and rate reduction"],
  ["decimate", "Add Bit and rate reduction"],
  ["growl", "Add Drive"],
  ["growl", "Add Formant filter"],
  ["vowel", "Add Formant filter"],
  ["monster", "Add Formant filter"],
  ["talkbox", "Add Formant filter"],
  ["distortion", "Add Drive"],
  ["overdrive", "Add Drive"],
  ["saturation", "Add Drive"],
  ["fuzz", "Add Drive"],
  ["waveshaper", "Add Drive"],
  ["wavefold", "Add Drive"],
  ["hard clip", "Add Drive"],
  ["crunch", "Add Drive"],
  ["eq", "Add Equaliser"],
  ["shelf", "Add Equaliser"],
  ["parametric", "Add Equaliser"],
  ["notch", "Add Equaliser"],
  ["lpf", "Add Filter"],
  ["highpass", "Add Filter"],
  ["wah", "Add Filter"],
  ["cutoff", "Add Filter"],
  ["telephone", "Add Filter"],
  ["underwater", "Add Filter"],
  ["reverb", "Add Reverb"],
  ["hall", "Add Reverb"],
  ["plate", "Add Reverb"],
  ["ambience", "Add Reverb"],
  ["cave", "Add Reverb"],
  ["pre-delay", "Add Reverb"],
  ["octave reverb", "Add Shimmer"],
  ["ambient", "Add Shimmer"],
  ["freeze", "Add Spectral blur"],
  ["limiter", "Add Limiter"],
  ["maximiser", "Add Limiter"],
  ["mastering", "Add Limiter"],
  ["true peak", "Add Limiter"],
  ["brickwall", "Add Limiter"],
  ["upward", "Add Multiband"],
  ["punch", "Add Transient shaper"],
  ["snap", "Add Transient shaper"],
  ["expander", "Add Gate"],
  ["stutter", "Add Gate"],
  ["volume", "Add Gain"],
  ["trim", "Add Gain"],
  ["polarity", "Add Gain"],
  ["invert", "Add Gain"],
  ["fade-out", "Add Fade"],
  ["ensemble", "Add Chorus"],
  ["thicken", "Add Chorus"],
  ["jet", "Add Flanger"],
  ["swirl", "Add Phaser"],
  ["wow", "Add Vibrato"],
  ["flutter", "Add Vibrato"],
  ["haas", "Add Widener"],
  ["mid-side", "Add Width"],
  ["mono bass", "Add Width"],
  ["backwards", "Add Reverse"],
  ["oscillator", "Add layer: tone"],
  ["sub", "Add layer: tone"],
  ["supersaw", "Add layer: tone"],
  ["fm", "Add layer: tone"],
  ["additive", "Add layer: tone"],
  ["morph", "Add layer: wavetable"],
  ["hiss", "Add layer: noise"],
  ["whoosh", "Add layer: noise"],
  ["wind", "Add layer: noise"],
  ["pink", "Add layer: noise"],
  ["foley", "Add layer: sample"],
  ["granular", "Add layer: sample"],
  ["wav", "Add layer: sample"],
  ["envelope", "Add mover: Curve"],
  ["adsr", "Add mover: Curve"],
  ["automation", "Add mover: Curve"],
  ["tremolo", "Add mover: LFO"],
  ["wobble", "Add mover: LFO"],
  ["sequencer", "Add mover: Steps"],
  ["humanize", "Add mover: Random"],
  ["round robin", "Add mover: Random"],
  ["knob", "Add mover: Macro"],
  ["arpeggio", "Notes of the hit"],
  ["glide", "Notes of the hit"],
  ["legato", "Notes of the hit"],
];

describe("words of the trade", () => {
  beforeEach(() => useBench.setState({ selection: { kind: "main" } }));

  it("are more than a hundred", () =>
    expect(new Set(WORDS.map(([word]) => word)).size).toBeGreaterThan(100));

  it.each(WORDS)("%s finds %s among the first five", (word, label) => {
    const first = found(entries(), word).slice(0, 5);
    expect(first.map((entry) => entry.label)).toContain(label);
  });

  it("belong to what there is", () => {
    const known = [
      ...Object.keys(PROCESSOR_DEFAULTS).map((kind) => `processor ${kind}`),
      ...Object.keys(SOURCE_DEFAULTS).map((kind) => `layer ${kind}`),
      ...Object.keys(MOVER_DEFAULTS).map((kind) => `mover ${kind}`),
      "bus",
      "notes",
    ];
    expect(Object.keys(synonyms).sort()).toEqual(known.sort());
  });
});
