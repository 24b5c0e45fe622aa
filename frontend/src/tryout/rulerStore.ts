import { create } from "zustand";
import type { TimeView } from "../ui";

/** Steps that hits snap to, in beats; null: freely. */
export const GRIDS: [string, number | null][] = [
  ["1/1", 4],
  ["1/2", 2],
  ["1/4", 1],
  ["1/8", 0.5],
  ["1/16", 0.25],
  ["1/32", 0.125],
  ["1/4 triplet", 2 / 3],
  ["1/8 triplet", 1 / 3],
  ["1/16 triplet", 1 / 6],
  ["1/4 dotted", 1.5],
  ["1/8 dotted", 0.75],
  ["1/16 dotted", 0.375],
  ["off", null],
];

interface RulerState {
  unit: "beats" | "time";
  grid: string;
  /** What the ruler shows; null fits the whole round. */
  view: TimeView | null;
  panel: "game" | "kit" | null;
  leaf: "Part" | "Hit" | "Overlap" | "Try-out";
}

export const useTryOutRuler = create<RulerState>(() => ({
  unit: "beats",
  grid: "1/16",
  view: null,
  panel: null,
  leaf: "Part",
}));

export const gridBeats = () => {
  const { grid } = useTryOutRuler.getState();
  return GRIDS.find(([name]) => name === grid)?.[1] ?? null;
};

export const showView = (view: TimeView | null) => useTryOutRuler.setState({ view });
export const LABEL_WIDTH = 152;

const SHORTEST_S = 0.05;
const LONGEST_S = 121;

/** A view kept within what a try-out can be long. */
export function boundedTo({ startS, endS }: TimeView): TimeView {
  const span = Math.min(LONGEST_S, Math.max(SHORTEST_S, endS - startS));
  const start = Math.min(Math.max(0, startS), LONGEST_S - span);
  return { startS: start, endS: start + span };
}
