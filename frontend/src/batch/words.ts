/** What codes of flags and marks mean, and what is done about them. */
export const MARK_WORDS: Record<string, string> = {
  silent: "silent",
  over: "over full scale before its level was set",
  endless: "does not end by itself",
  click_start: "clicks at its start",
  click_end: "clicks at its end",
  soft: "softer than wanted: the ceiling holds it back",
  alike: "nearly the same as another one",
  far: "far from the original",
  off_pitch: "more than half a semitone off pitch",
  long: "more than twice as long as most",
};

export const FIGURE_NAMES: readonly (readonly [string, string])[] = [
  ["length_s", "Length"],
  ["loudness_lufs", "Loudness"],
  ["peak_db", "Peak"],
  ["crest_db", "Crest"],
  ["pitch_hz", "Pitch"],
  ["brightness_hz", "Brightness"],
  ["decay_s", "Decay"],
  ["noisiness", "Noisiness"],
];

const hz = (value: number) =>
  value >= 1000 ? `${(value / 1000).toFixed(1)} kHz` : `${value.toFixed(0)} Hz`;
const seconds = (value: number) =>
  value < 1 ? `${(1000 * value).toFixed(0)} ms` : `${value.toFixed(2)} s`;

/** A figure of a member as it is read. */
export function figureText(name: string, value: unknown): string {
  return plainText(name, value).replace("-", "−");
}

function plainText(name: string, value: unknown): string {
  if (typeof value !== "number") return "–";
  if (name.endsWith("_s")) return seconds(value);
  if (name.endsWith("_hz")) return hz(value);
  if (name === "loudness_lufs") return `${value.toFixed(1)} LUFS`;
  if (name.endsWith("_db")) return `${value.toFixed(1)} dB`;
  return value.toFixed(2);
}

/** Long spans as one says them. */
export function spanText(value: number): string {
  if (value < 90) return `${value.toFixed(value < 10 ? 1 : 0)} s`;
  return value < 5400 ? `${(value / 60).toFixed(0)} min` : `${(value / 3600).toFixed(1)} h`;
}

export const bytesText = (value: number) =>
  value < 1e6
    ? `${Math.max(1, Math.round(value / 1e3))} kB`
    : value < 1e9
      ? `${(value / 1e6).toFixed(0)} MB`
      : `${(value / 1e9).toFixed(1)} GB`;
