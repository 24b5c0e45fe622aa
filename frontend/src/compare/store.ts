import { create } from "zustand";
import type { Stretch } from "./deck";

export type Match = "loudness" | "peak" | "off";

/** How sides are compared. */
export interface Asked {
  match: Match;
  /** For each side, by how much later than A it begins; null: as found. */
  shiftsS: (number | null)[];
  /** Stretches that count nowhere. */
  leftOut: Stretch[];
}

interface CompareState extends Asked {
  /** What is chosen on the ruler, to be looped or left out. */
  chosen: Stretch | null;
  /** Where the pointer is on the ruler, in seconds. */
  pointedAtS: number | null;
  /** The side that the list and the map of differences are about. */
  beside: number;
  loop: boolean;
}

const FRESH: CompareState = {
  match: "loudness",
  shiftsS: [],
  leftOut: [],
  chosen: null,
  pointedAtS: null,
  beside: 1,
  loop: false,
};

export const useCompare = create<CompareState>(() => FRESH);

export const compareAfresh = () => useCompare.setState(FRESH);

export function shiftSide(side: number, shiftS: number | null): void {
  const shiftsS = [...useCompare.getState().shiftsS];
  while (shiftsS.length <= side) shiftsS.push(null);
  shiftsS[side] = shiftS;
  useCompare.setState({ shiftsS });
}

export const leaveOut = (stretch: Stretch) =>
  useCompare.setState(({ leftOut }) => ({
    leftOut: [...leftOut, stretch].sort((a, b) => a.fromS - b.fromS),
    chosen: null,
  }));

export const countAgain = (stretch: Stretch) =>
  useCompare.setState(({ leftOut }) => ({ leftOut: leftOut.filter((one) => one !== stretch) }));
