import type { ComparedAnswer } from "../api";
import { bytesOf } from "../ui";

type SideAnswer = ComparedAnswer["sides"][number];

/** Groups of bands, by their lower edges in Hz. */
export const GROUPS = [
  { name: "all bands", fromHz: 0, toHz: Infinity },
  { name: "below 150 Hz", fromHz: 0, toHz: 150 },
  { name: "150 Hz to 1 kHz", fromHz: 150, toHz: 1000 },
  { name: "1 to 4 kHz", fromHz: 1000, toHz: 4000 },
  { name: "above 4 kHz", fromHz: 4000, toHz: Infinity },
] as const;

export const FLOOR_DB = -90;

/** The level of a group of bands by step, in dB. */
export function groupLevels(
  side: SideAnswer,
  edges: readonly number[],
  group: { fromHz: number; toHz: number },
): Float32Array {
  const { bands, steps, data } = side.levels;
  const levels = bytesOf(data);
  const power = new Float32Array(steps);
  for (let band = 0; band < bands; band++) {
    const edge = edges[band] ?? 0;
    if (edge < group.fromHz || edge >= group.toHz) continue;
    for (let step = 0; step < steps; step++)
      power[step] =
        (power[step] ?? 0) + 10 ** (((levels[band * steps + step] ?? 0) / 2 - 120) / 10);
  }
  return power.map((value) => Math.max(FLOOR_DB, 10 * Math.log10(Math.max(1e-12, value))));
}

/** The pitch nearest to a moment, within 60 ms of it; null where there is none. */
export function pitchAt(side: SideAnswer, timeS: number): number | null {
  const { time_s, hz } = side.pitch;
  let best: number | null = null;
  let nearest = 0.06;
  time_s.forEach((at, n) => {
    if (Math.abs(at - timeS) >= nearest) return;
    nearest = Math.abs(at - timeS);
    best = hz[n] ?? null;
  });
  return best;
}

/** The range of all pitch lines, at least an octave, in Hz; null where no side has one. */
export function pitchRange(sides: readonly SideAnswer[]): { low: number; high: number } | null {
  const all = sides.flatMap(({ pitch }) => pitch.hz);
  if (all.length === 0) return null;
  const low = Math.min(...all);
  const high = Math.max(...all);
  const middle = Math.sqrt(low * high);
  return { low: Math.min(low * 0.94, middle / 1.42), high: Math.max(high * 1.06, middle * 1.42) };
}
