import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { TimeShape } from "../../ui";

/** What points snap to: nothing, so many ms, or this share of a beat. */
export type Grid = { kind: "off" } | { kind: "ms"; size: number } | { kind: "beat"; size: number };

interface RulerState {
  shape: TimeShape;
  unit: "time" | "beats";
  grid: Grid;
}

/** How this person likes the ruler; kept in the browser, for it belongs to no sound. */
export const useRuler = create<RulerState>()(
  persist((): RulerState => ({ shape: "even", unit: "time", grid: { kind: "off" } }), {
    name: "nest-crate:ruler",
  }),
);

export const GRIDS: { label: string; grid: Grid }[] = [
  { label: "off", grid: { kind: "off" } },
  ...[1, 5, 10, 50].map((size) => ({ label: `${size} ms`, grid: { kind: "ms" as const, size } })),
  ...[16, 8, 4, 2, 1].map((part) => ({
    label: part === 1 ? "1 beat" : `1/${part} beat`,
    grid: { kind: "beat" as const, size: 1 / part },
  })),
];

export const gridLabel = (grid: Grid) =>
  GRIDS.find(({ grid: one }) => JSON.stringify(one) === JSON.stringify(grid))?.label ?? "off";

/** The grid in seconds at a tempo; null where it is off. */
export function gridSeconds(grid: Grid, tempoBpm: number): number | null {
  switch (grid.kind) {
    case "off":
      return null;
    case "ms":
      return grid.size / 1000;
    case "beat":
      return (grid.size * 60) / tempoBpm;
  }
}
