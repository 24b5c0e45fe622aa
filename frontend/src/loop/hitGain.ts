import { CHOKE_S } from "./strips";

interface Shape {
  attackS: number;
  /** When it is choked, in seconds of the hit; null where it is not. */
  untilS: number | null;
  level: number;
}

export interface GainPoint {
  at: number;
  value: number;
}

/**
 * The gain of a hit over its time, as points with straight lines between them; none where it stays.
 * A hit that is choked while it rises is faded from where it then is.
 */
export function hitGain({ attackS, untilS, level }: Shape): GainPoint[] {
  const points: GainPoint[] = [];
  const risenAt = untilS === null ? attackS : Math.min(attackS, untilS);
  const risen = attackS > 0 ? (level * risenAt) / attackS : level;
  if (attackS > 0) points.push({ at: 0, value: 0 }, { at: risenAt, value: risen });
  if (untilS !== null) {
    if (untilS > risenAt || attackS === 0) points.push({ at: untilS, value: risen });
    points.push({ at: untilS + CHOKE_S, value: 0 });
  }
  return points;
}
