import { centsText } from "../../ui";

/** Figures of a sample as they are written on screen. */

export const sampleUrl = (sample: { id: number; version: number }) =>
  `/api/samples/${sample.id}/file?sample_rate=48000&sample_format=float32&version=${sample.version}`;

export const lengthText = (seconds: number) =>
  seconds < 1 ? `${(seconds * 1000).toFixed(0)} ms` : `${seconds.toFixed(2)} s`;

interface Pitched {
  note: string | null;
  cents: number | null;
  several_notes?: boolean;
}

export function noteText({ note, cents, several_notes }: Pitched): string {
  if (several_notes) return "several";
  if (note === null) return "–";
  return cents === null ? note : `${note} ${centsText(cents)}`;
}

export const levelText = (level: number, unit: string) =>
  level <= -144 ? "silent" : `${level.toFixed(1).replace("-", "−")} ${unit}`;

export const hzText = (hz: number) =>
  hz >= 1000 ? `${(hz / 1000).toFixed(2)} kHz` : `${hz.toFixed(0)} Hz`;

export const statusText = (status: string) => status.replace("_", " ");

const STATUS_VERBS: Record<string, string> = {
  in_review: "Send to review",
  approved: "Approve",
  draft: "Back to draft",
  retired: "Retire",
};

/** What it is called to give a sample a status; what is in review is sent back. */
export const statusVerb = (from: string | null, to: string): string =>
  from === "in_review" && to === "draft" ? "Send back" : (STATUS_VERBS[to] ?? to);

/** A glyph and a colour for each status, so that neither is the only sign. */
export const STATUS_MARKS: Record<string, { glyph: string; colour: string }> = {
  draft: { glyph: "○", colour: "text-ink-2" },
  in_review: { glyph: "◐", colour: "text-warn" },
  approved: { glyph: "●", colour: "text-good" },
  retired: { glyph: "×", colour: "text-ink-2" },
};

/** The loudness that level-matched playing brings everything down to, where it is louder. */
const MATCHED_LUFS = -23;
/** By how many dB (0 or below) a sample is played softer when levels are matched. */
export const matchedGainDb = (loudnessLufs: number) => Math.min(0, MATCHED_LUFS - loudnessLufs);

/** How a value of a range is written, by the range's name. */
export const RANGE_WORDS: Record<string, { label: string; text: (value: number) => string }> = {
  length_s: { label: "Length", text: lengthText },
  root_hz: { label: "Pitch", text: hzText },
  brightness_hz: { label: "Brightness", text: hzText },
  decay_s: { label: "Decay", text: lengthText },
  loudness_lufs: { label: "Loudness", text: (value) => levelText(value, "LUFS") },
  noisiness: { label: "Noisiness", text: (value) => `${(100 * value).toFixed(0)} %` },
};
