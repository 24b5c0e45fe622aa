const NAMES = ["C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B"] as const;
const STEPS: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

/** Note 60 is C4. */
export function noteName(note: number): string {
  return `${NAMES[((note % 12) + 12) % 12] ?? "C"}${Math.floor(note / 12) - 1}`;
}

export function noteToHz(note: number): number {
  return 440 * 2 ** ((note - 69) / 12);
}

export function hzToNote(hz: number): number {
  return 69 + 12 * Math.log2(hz / 440);
}

/** Note number of a name such as G1, F#2 or Bb-1; null where the text is none. */
export function parseNote(text: string): number | null {
  const match = /^([A-Ga-g])([#b♯♭]?)(-?\d)$/.exec(text.trim());
  if (!match) return null;
  const [, letter = "C", accidental = "", octave = "0"] = match;
  const shift = accidental === "" ? 0 : accidental === "#" || accidental === "♯" ? 1 : -1;
  const note = (STEPS[letter.toUpperCase()] ?? 0) + shift + 12 * (Number(octave) + 1);
  return note >= 0 && note <= 127 ? note : null;
}

/** Distance from a note as it is read: "+5 ct", "−12 ct", "0 ct". */
export function centsText(cents: number): string {
  const whole = Math.round(cents);
  return `${whole === 0 ? "" : whole < 0 ? "−" : "+"}${Math.abs(whole)} ct`;
}
