/** Broad bumps between low and middle, where several effects pile up what is heard as mud. */

export interface Bump {
  hz: number;
  overDb: number;
}

const LOW_HZ = 120;
const HIGH_HZ = 700;
const OWN_OCTAVES = 1 / 3;
const AWAY_OCTAVES = 1.4;
const LEAST_DB = 5;

/** Mean level within so many octaves of a frequency; null where nothing is measured there. */
function around(hz: number[], levels: number[], at: number, octaves: number): number | null {
  const near = levels.filter((_, n) => Math.abs(Math.log2((hz[n] ?? 1) / at)) <= octaves);
  return near.length > 0 ? near.reduce((sum, one) => sum + one, 0) / near.length : null;
}

/** The largest bump of an average spectrum: over the line from what lies below to what lies above. */
export function bump(hz: number[], levels: number[]): Bump | null {
  let found: Bump | null = null;
  for (const at of hz.filter((one) => one >= LOW_HZ && one <= HIGH_HZ)) {
    const own = around(hz, levels, at, OWN_OCTAVES);
    const below = around(hz, levels, at / 2 ** AWAY_OCTAVES, OWN_OCTAVES);
    const above = around(hz, levels, at * 2 ** AWAY_OCTAVES, OWN_OCTAVES);
    if (own === null || below === null || above === null) continue;
    const overDb = own - (below + above) / 2;
    if (overDb > Math.max(LEAST_DB, found?.overDb ?? 0)) found = { hz: at, overDb };
  }
  return found;
}

/** Whether a frequency is one of the sound's own pitches, within some octaves. */
export const isOwnPitch = (hz: number, own: number[], octaves: number): boolean =>
  own.some((one) => Math.abs(Math.log2(hz / one)) <= octaves);
