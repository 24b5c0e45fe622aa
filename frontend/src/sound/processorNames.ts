import type { Processor } from "../api";

type Kind = Processor["kind"];

export const PROCESSOR_NAMES: Record<Kind, string> = {
  equaliser: "Equaliser",
  filter: "Filter",
  comb: "Comb",
  formant: "Formants",
  resonators: "Resonators",
  drive: "Drive",
  reducer: "Reducer",
  compressor: "Compressor",
  multiband: "Multiband",
  transient: "Transients",
  gate: "Gate",
  ceiling: "Ceiling",
  chorus: "Chorus",
  flanger: "Flanger",
  phaser: "Phaser",
  vibrato: "Vibrato",
  delay: "Delay",
  pitch_delay: "Pitch delay",
  room: "Room",
  shimmer: "Shimmer",
  convolution: "Convolution",
  blur: "Blur",
  shifter: "Shifter",
  width: "Width",
  gain: "Gain",
  reverse: "Reverse",
  fade: "Fade",
};

/** Processors by what they are for, as menus list them. */
export const PROCESSOR_GROUPS: [string, Kind[]][] = [
  ["Tone", ["equaliser", "filter", "formant", "comb", "resonators"]],
  ["Bend", ["drive", "reducer", "shifter"]],
  ["Level", ["compressor", "multiband", "transient", "gate", "gain", "fade", "ceiling"]],
  ["Copies", ["chorus", "flanger", "phaser", "vibrato", "delay", "pitch_delay"]],
  ["Space", ["room", "shimmer", "convolution", "blur", "width", "reverse"]],
];

/** Other words that people look for. */
export const PROCESSOR_WORDS: Partial<Record<Kind, string>> = {
  equaliser: "eq bands bell shelf cut notch tone",
  filter: "low-pass high-pass band-pass notch resonance cutoff",
  formant: "vowel voice throat",
  resonators: "strings chord tuned ring",
  drive: "distortion saturation tube clip fold rectify waveshaper overdrive",
  reducer: "bit crush sample rate lo-fi decimate",
  compressor: "dynamics duck sidechain squeeze",
  multiband: "dynamics three bands upward downward",
  transient: "shaper attack sustain punch",
  gate: "noise expander",
  ceiling: "limiter true peak",
  chorus: "ensemble detune",
  flanger: "jet sweep",
  phaser: "all-pass notches",
  delay: "echo beats dotted",
  pitch_delay: "echo climbing",
  room: "reverb hall tail",
  shimmer: "reverb octave tail",
  convolution: "impulse body box spring plate speaker reverb",
  blur: "haze spectrum cloud spread",
  shifter: "frequency ring modulator",
  width: "stereo mono",
  gain: "volume pan polarity",
  reverse: "backwards",
};
