import { create } from "zustand";
import type { PlacedHit, TryOut, TryOutPart } from "../api";
import { TRYOUT_DEFAULTS } from "../api";

/** How a sound of the Bench is played inside a try-out. */
interface ContextState {
  /** Whether Play means the try-out. */
  on: boolean;
  /** By how many dB the other parts are raised. */
  othersDb: number;
  /** The part in whose place a sound stands that the try-out does not hold; null: the first. */
  inPlaceOf: string | null;
}

export const useContext = create<ContextState>(() => ({
  on: false,
  othersDb: 0,
  inPlaceOf: null,
}));

/** The parts that play the draft of a sound. */
export const partsOfSound = (document: TryOut, soundId: number) =>
  document.parts.filter(({ plays }) => plays.kind === "sound" && plays.sound === soundId);

/** The part that is the sound on the Bench: its own, or the one in whose place it stands. */
export function partInHand(document: TryOut, soundId: number, inPlaceOf: string | null) {
  return (
    partsOfSound(document, soundId)[0] ??
    document.parts.find(({ id }) => id === inPlaceOf) ??
    document.parts.find(({ plays }) => plays.kind !== "bed") ??
    null
  );
}

interface InContext {
  soundId: number;
  name: string;
  othersDb: number;
  inPlaceOf: string | null;
}

/** The try-out with the sound of the Bench in it, whatever its mute and solo say. */
export function withSoundInContext(document: TryOut, sound: InContext): TryOut {
  const inHand = partInHand(document, sound.soundId, sound.inPlaceOf);
  const own = (part: TryOutPart): TryOutPart => ({
    ...part,
    plays: { kind: "sound", sound: sound.soundId, revision: null },
    name: sound.name,
    mute: false,
    solo: document.parts.some(({ solo }) => solo),
  });
  const parts = document.parts.map((part) =>
    part.id === inHand?.id
      ? own(part)
      : { ...part, level_db: Math.max(-72, Math.min(24, part.level_db + sound.othersDb)) },
  );
  return { ...document, parts: inHand ? parts : [...parts, alone(document, sound)] };
}

/** Without any part to stand for it, the sound is heard on the first beat. */
function alone(document: TryOut, sound: InContext): TryOutPart {
  const hit: PlacedHit = { ...TRYOUT_DEFAULTS.hit, at_s: 0, in_beats: { at_s: 0 } };
  return {
    ...TRYOUT_DEFAULTS.part,
    id: "bench",
    name: sound.name,
    plays: { kind: "sound", sound: sound.soundId, revision: null },
    hits: document.length_s > 0 ? [hit] : [],
  };
}
