import type { RangeFacet } from "../../api";

/** Places from 0 to 1 on a facet's scale, and back. */

export function placeOf(facet: RangeFacet, value: number): number {
  const { low, high, logarithmic } = facet;
  if (high <= low) return 0;
  const held = Math.min(high, Math.max(low, value));
  return logarithmic ? Math.log(held / low) / Math.log(high / low) : (held - low) / (high - low);
}

export function valueAtPlace(facet: RangeFacet, place: number): number {
  const { low, high, logarithmic } = facet;
  const held = Math.min(1, Math.max(0, place));
  return logarithmic ? low * (high / low) ** held : low + held * (high - low);
}

/** Whether a part of the scale (0 to 1 from left to right) lies within what was chosen. */
export function isInside(
  facet: RangeFacet,
  chosen: readonly [number | null, number | null] | undefined,
  place: number,
): boolean {
  if (!chosen) return true;
  const [low, high] = chosen;
  return (
    (low === null || place >= placeOf(facet, low)) &&
    (high === null || place <= placeOf(facet, high))
  );
}
