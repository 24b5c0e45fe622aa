import type { Hit } from "../../api";
import { timePatch } from "../../sound";

/** How a take ends: in itself, or as a loop of this length, which may be kept in beats. */
export interface Loop {
  on: boolean;
  lengthS: number;
  beats?: number | undefined;
}

export const NO_LOOP: Loop = { on: false, lengthS: 0 };

/** The hit that renders the loop; the hit as it is where none is wanted. */
export function hitWithLoop(hit: Hit, { on, lengthS, beats }: Loop): Hit {
  return { ...hit, ...timePatch(hit, "loop_s", on ? lengthS : 0, on ? beats : undefined) };
}
