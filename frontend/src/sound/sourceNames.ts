import type { Source } from "../api";

/** What each kind of source is called. */
export const SOURCE_NAMES: Record<Source["kind"], string> = {
  tone: "Tone",
  wavetable: "Wavetable",
  noise: "Noise",
  struck: "Struck body",
  sample: "Sample",
};
