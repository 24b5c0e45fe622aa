import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Processor, Sound } from "../../api";
import { branchesOf } from "../../sound";
import { ROW_HEIGHT } from "./mapLayout";

/** How high the path is: as the sound needs it, until someone drags it. */

export const LEAST_HEIGHT = 132;
const MOST_SHARE = 0.6;
const PLAIN = 156;
/** What a row of the map and a row of cards take, and what lies around them. */
const MAP_FRAME = 28;
const CARD_ROW = 108;
const CARD_FRAME = 44;
const CARDS_A_ROW = 6;
/** Of a part of a split bus that has no processor yet. */
const EMPTY_ROW = 44;
const NATURAL_SHARE = 0.35;

export const usePathHeight = create<{ wanted: number | null }>()(
  persist((): { wanted: number | null } => ({ wanted: null }), { name: "nest-crate:path-height" }),
);

/** The height at which a sound's map and its longest chain are seen whole, within reason. */
export function naturalHeight(sound: Sound, windowHeight: number): number {
  const map = MAP_FRAME + ROW_HEIGHT * Math.max(sound.layers.length, sound.buses.length);
  const rowsOf = (chain: readonly Processor[]) => {
    const forks = chain.map((part) => branchesOf(part).length).filter((count) => count > 0);
    const plain = Math.ceil((chain.length - forks.length) / CARDS_A_ROW);
    return forks.reduce((sum, count) => sum + count, plain);
  };
  const whole = [sound.main, ...sound.layers, ...sound.buses.filter(({ split }) => !split)];
  const heights = whole.map(({ chain }) => CARD_ROW * rowsOf(chain));
  for (const { split, chain, low_chain } of sound.buses)
    if (split)
      heights.push(
        [low_chain, chain].reduce((sum, one) => sum + (CARD_ROW * rowsOf(one) || EMPTY_ROW), 0),
      );
  const chain = CARD_FRAME + Math.max(CARD_ROW, ...heights);
  const most = Math.max(PLAIN, Math.round(windowHeight * NATURAL_SHARE));
  return Math.min(most, Math.max(PLAIN, map, chain));
}

export const keptWithin = (height: number, windowHeight: number): number =>
  Math.round(Math.max(LEAST_HEIGHT, Math.min(windowHeight * MOST_SHARE, height)));
