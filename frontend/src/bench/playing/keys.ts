import { create } from "zustand";
import type { FurtherNote, Hit, Sound } from "../../api";
import { HeldHit, renderHit } from "../../audio";
import { matchingGainDb, useBench } from "../../sound";
import { transposed } from "./chords";
import { LegatoLine } from "./legato";

interface KeysState {
  /** Whether the keys are on screen. */
  shown: boolean;
  /** Note of the leftmost key, a C. */
  lowest: number;
  /** Notes that are held now. */
  down: number[];
}

export const useKeys = create<KeysState>(() => ({ shown: false, lowest: 48, down: [] }));

/** Places of the computer's two letter rows, in semitones from the leftmost key. */
const ROW: Record<string, number> = {
  KeyA: 0,
  KeyW: 1,
  KeyS: 2,
  KeyE: 3,
  KeyD: 4,
  KeyF: 5,
  KeyT: 6,
  KeyG: 7,
  KeyY: 8,
  KeyH: 9,
  KeyU: 10,
  KeyJ: 11,
  KeyK: 12,
  KeyO: 13,
  KeyL: 14,
  KeyP: 15,
  Semicolon: 16,
};

export const letterOf = (semitones: number) =>
  Object.entries(ROW)
    .find(([, place]) => place === semitones)?.[0]
    .replace("Key", "")
    .replace("Semicolon", ";");

/** The note that a key of the computer plays, by its place and not by its letter. */
export function noteOfKey(code: string): number | null {
  const place = ROW[code];
  if (place === undefined) return null;
  const note = useKeys.getState().lowest + place;
  return note <= 127 ? note : null;
}

export const shiftOctave = (octaves: number) =>
  useKeys.setState(({ lowest }) => ({
    lowest: Math.min(108, Math.max(0, lowest + 12 * octaves)),
  }));

const held = new Map<number, HeldHit>();
let hits = 0;
/** The one voice of legato playing, with the notes that are held, oldest first. */
let slurred: LegatoLine | null = null;

/** Press a note: a hit of the sound on it, held until ``noteOff``. Several make a chord. */
export function noteOn(note: number, velocity?: number): void {
  const { document, audition } = useBench.getState();
  if (!document || note < 0 || note > 127 || held.has(note)) return;
  const { way } = document.playing;
  if (way === "legato" && slurred) {
    slurred.press(note);
    useKeys.setState({ down: slurred.notes });
    return;
  }
  // In mono the newest note ends the others.
  if (way === "mono") {
    for (const other of held.values()) other.stop();
    held.clear();
  }
  const played: Sound = document;
  const number = document.hit.number + (hits++ % 1000);
  const chord = transposed(played.hit.further, note - played.hit.note);
  const rendering = (further: FurtherNote[]) => (hold_s: number) => {
    const hit: Hit = { ...played.hit, note, hold_s, number, further };
    return renderHit(played, velocity === undefined ? hit : { ...hit, velocity });
  };
  const render = rendering(way === "legato" ? [] : chord);
  const gainDb = matchingGainDb(audition?.measures.loudness_lufs ?? -144);
  const hit = new HeldHit(render, gainDb);
  if (way === "legato") {
    slurred = new LegatoLine(note, hit, rendering);
    useKeys.setState({ down: slurred.notes });
  } else {
    held.set(note, hit);
    useKeys.setState({ down: [...held.keys()] });
  }
  hit.start().catch((error: unknown) => {
    const reason = error instanceof Error ? error.message : "The note could not be rendered";
    useBench.setState({ auditionProblem: reason });
  });
}

export function noteOff(note: number): void {
  if (slurred) {
    const over = slurred.letGo(note);
    useKeys.setState({ down: slurred.notes });
    if (over) slurred = null;
    return;
  }
  const hit = held.get(note);
  if (!hit) return;
  held.delete(note);
  useKeys.setState({ down: [...held.keys()] });
  void hit.release();
}

/** Let go of everything, as when the window loses the keyboard. */
export function allNotesOff(): void {
  for (const note of [...(slurred?.notes ?? [])]) noteOff(note);
  for (const note of [...held.keys()]) noteOff(note);
}
