import type { PartialSet } from "../api";

export const PARTIAL_COUNT = 64;

/** Amplitudes of all bars, those not written out being 0. */
export function allAmplitudes(partials: PartialSet): number[] {
  return Array.from({ length: PARTIAL_COUNT }, (_, n) => partials.amplitudes[n] ?? 0);
}

const from = (amplitude: (k: number) => number): number[] =>
  Array.from({ length: PARTIAL_COUNT }, (_, n) => Math.round(amplitude(n + 1) * 1000) / 1000);

/** Sets to start from; what is drawn afterwards is one's own. */
export const STARTING_SETS: { name: string; amplitudes: number[] }[] = [
  { name: "First only", amplitudes: [1] },
  { name: "All, falling", amplitudes: from((k) => 1 / k) },
  { name: "Odd only", amplitudes: from((k) => (k % 2 === 1 ? 1 / k : 0)) },
  // Near the modes of a struck bar, 1 : 2.76 : 5.40 : 8.93 : 13.34, on multiples of a low partial.
  {
    name: "Bell-like, stretched",
    amplitudes: from((k) => ({ 4: 1, 11: 0.7, 22: 0.5, 36: 0.32, 53: 0.2 })[k] ?? 0),
  },
  // Octaves and fifths, as ranks of pipes are stacked.
  {
    name: "Organ-like",
    amplitudes: from((k) => ({ 1: 1, 2: 0.8, 3: 0.5, 4: 0.6, 6: 0.35, 8: 0.4, 16: 0.2 })[k] ?? 0),
  },
];

/** Amplitudes with bars set along a stroke from one place to another (0 to 1 across and up). */
export function withStroke(
  amplitudes: number[],
  start: { bar: number; level: number },
  end: { bar: number; level: number },
): number[] {
  const [left, right] = start.bar <= end.bar ? [start, end] : [end, start];
  return amplitudes.map((own, bar) => {
    if (bar < left.bar || bar > right.bar) return own;
    const part = right.bar === left.bar ? 1 : (bar - left.bar) / (right.bar - left.bar);
    const level =
      right === end || right.bar !== left.bar
        ? left.level + (right.level - left.level) * part
        : end.level;
    return Math.round(Math.min(1, Math.max(0, level)) * 1000) / 1000;
  });
}

/** The amplitude that is heard: tilted, balanced and combed, as the engine defines it. */
export function heardAmplitude(partials: PartialSet, k: number): number {
  const own = partials.amplitudes[k - 1] ?? 0;
  if (partials.comb > 1 && k % partials.comb === 0) return 0;
  const side =
    k % 2 === 0
      ? 1 + Math.min(0, partials.odd_even)
      : k > 1
        ? 1 - Math.max(0, partials.odd_even)
        : 1;
  return own * side * 10 ** ((partials.tilt_db * Math.log2(k)) / 20);
}
