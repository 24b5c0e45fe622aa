import type { FurtherNote, Sound } from "../../api";

/** Notes of a hit beside its own. */

export const MOST_FURTHER = 15;

/** Chords by the semitones of their further notes above the hit's own. */
export const CHORDS: { name: string; steps: number[] }[] = [
  { name: "single note", steps: [] },
  { name: "octave", steps: [12] },
  { name: "fifth", steps: [7] },
  { name: "semitone", steps: [1] },
  { name: "major", steps: [4, 7] },
  { name: "minor", steps: [3, 7] },
  { name: "major seventh", steps: [4, 7, 11] },
  { name: "minor seventh", steps: [3, 7, 10] },
];

const inRange = (note: number) => Math.min(127, Math.max(0, note));

/** The further notes moved along with the hit's own. */
export const transposed = (further: FurtherNote[], semitones: number): FurtherNote[] =>
  further.map((one) => ({ ...one, note: inRange(one.note + semitones) }));

export const withFurther = (sound: Sound, further: FurtherNote[]): Sound => ({
  ...sound,
  hit: { ...sound.hit, further: further.slice(0, MOST_FURTHER) },
});

export const withChord = (sound: Sound, steps: number[]): Sound =>
  withFurther(
    sound,
    steps.map((step) => ({ note: inRange(sound.hit.note + step), at_s: 0 })),
  );

/** The name of the chord that a hit plays, if it is one of those with names. */
export function chordName({ hit }: Sound): string | null {
  if (hit.further.some(({ at_s }) => at_s > 0)) return null;
  const steps = hit.further.map(({ note }) => note - hit.note).sort((a, b) => a - b);
  return CHORDS.find((one) => one.steps.join() === steps.join())?.name ?? null;
}

/** How several notes go together, in a few words. */
export function notesWords({ hit, playing, pattern }: Sound): string {
  const count = hit.further.length + 1;
  const parts = [
    playing.way,
    ...(count > 1 ? [`${count} notes`] : []),
    ...(pattern.order === "off" ? [] : [`pattern ${pattern.order.replace("_", "-")}`]),
  ];
  return parts.join(" · ");
}
