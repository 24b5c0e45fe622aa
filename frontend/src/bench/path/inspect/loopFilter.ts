import type { Parameter } from "../../../api";

/** The two filters of an echo's loop, and the same as the middle and the width of a band. */

export interface Cuts {
  low_cut_hz: number;
  high_cut_hz: number;
}

export interface Band {
  centreHz: number;
  octaves: number;
}

export const asBand = ({ low_cut_hz, high_cut_hz }: Cuts): Band => ({
  centreHz: Math.sqrt(low_cut_hz * high_cut_hz),
  octaves: Math.max(0, Math.log2(high_cut_hz / low_cut_hz)),
});

/** The cuts of a band, within what each of them may be. */
export function asCuts(
  { centreHz, octaves }: Band,
  { low, high }: { low: Parameter; high: Parameter },
): Cuts {
  const within = (value: number, { minimum, maximum }: Parameter) =>
    Number(Math.min(maximum, Math.max(minimum, value)).toPrecision(6));
  return {
    low_cut_hz: within(centreHz * 2 ** (-octaves / 2), low),
    high_cut_hz: within(centreHz * 2 ** (octaves / 2), high),
  };
}
