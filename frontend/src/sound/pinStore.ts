import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Sound } from "../api";

/** One pinned state of a sound, with its loudness where it was heard. */
export interface Pin {
  document: Sound;
  loudnessLufs: number | null;
}

export const PIN_COUNT = 4;
type Pins = (Pin | null)[];

interface PinState {
  /** By sound id; kept in this browser. */
  pins: Record<number, Pins>;
  /** Play every pinned state as loud as the quietest of them. */
  matched: boolean;
  soundId: number | null;
  /** What was dismissed of each sound's checks, by code and layer. */
  dismissed: Record<number, string[]>;
}

const MOST_SOUNDS = 12;

export const usePins = create<PinState>()(
  persist((): PinState => ({ pins: {}, matched: false, soundId: null, dismissed: {} }), {
    name: "nest-crate:pins",
    // Only the last few sounds' states, so that the browser's room is never used up.
    partialize: ({ pins, matched, dismissed }) => ({
      pins: Object.fromEntries(Object.entries(pins).slice(-MOST_SOUNDS)),
      matched,
      dismissed,
    }),
  }),
);

const NONE: Pins = [null, null, null, null];

export const pinsOf = ({ pins, soundId }: PinState): Pins =>
  (soundId === null ? undefined : pins[soundId]) ?? NONE;

export function setPin(place: number, pin: Pin | null): void {
  usePins.setState((state) => {
    if (state.soundId === null) return {};
    const changed = pinsOf(state).map((own, n) => (n === place ? pin : own));
    // Put last; browsers order whole numbers by size, so the oldest sounds are forgotten first.
    const others = Object.entries(state.pins).filter(([id]) => Number(id) !== state.soundId);
    return { pins: Object.fromEntries([...others, [state.soundId, changed]]) };
  });
}

/** How much lower to play a sound of this loudness; 0 where matching is off. */
export function matchingGainDb(loudnessLufs: number): number {
  const state = usePins.getState();
  if (!state.matched || loudnessLufs <= -100) return 0;
  const others = pinsOf(state).flatMap((pin) => pin?.loudnessLufs ?? []);
  const quietest = Math.min(loudnessLufs, ...others.filter((one) => one > -100));
  return Math.max(-40, quietest - loudnessLufs);
}

export function dismiss(key: string): void {
  usePins.setState(({ dismissed, soundId }) =>
    soundId === null
      ? {}
      : { dismissed: { ...dismissed, [soundId]: [...(dismissed[soundId] ?? []), key] } },
  );
}

export function showDismissed(): void {
  usePins.setState(({ dismissed, soundId }) =>
    soundId === null ? {} : { dismissed: { ...dismissed, [soundId]: [] } },
  );
}
