/** C4: there a cutoff that tracks the key is as it is set, as in the engine. */
export const TRACKED_FROM = 60;

/** A cutoff at a note, where ``follow`` of 1 goes up an octave with each octave of the keys. */
export const trackedHz = (cutoffHz: number, follow: number, note: number) =>
  cutoffHz * 2 ** ((follow * (note - TRACKED_FROM)) / 12);
