import type { Layer, MidiNote, RecordingItem, Sound, SampleSource } from "../api";
import {
  MOST_LAYERS,
  newLayer,
  newProcessor,
  newSource,
  samplePatch,
  edit,
  select,
  useBench,
  withLayer,
} from "../sound";

/** A layer that waits for its sample: the selected one, or any. */
function waitingLayer(sound: Sound): Layer | undefined {
  const waiting = sound.layers.filter(
    ({ source }) => source.kind === "sample" && !source.recording,
  );
  const { selection } = useBench.getState();
  return waiting.find(({ id }) => selection.kind === "layer" && selection.id === id) ?? waiting[0];
}

/** A recording into the layer that waits for one, or as a new layer of the open sound. */
export function asLayer(one: RecordingItem): void {
  let id = "";
  edit(`Layer added: ${one.name}`, (sound) => {
    const waiting = waitingLayer(sound);
    if (!waiting && sound.layers.length >= MOST_LAYERS) return sound;
    const patch = samplePatch(one.digest, one.name, one.details, null);
    const made = waiting ?? newLayer(sound, "sample");
    id = made.id;
    const source = { ...newSource("sample"), ...patch } as SampleSource;
    // A file without a note of its own sounds as it is when the sound's note is played.
    const root_note = one.details.root_note ?? sound.hit.note;
    const layer = { ...made, name: one.name.slice(0, 60), source: { ...source, root_note } };
    return waiting
      ? withLayer(sound, id, () => layer)
      : { ...sound, layers: [...sound.layers, layer] };
  });
  if (id) select({ kind: "layer", id });
}

/** A recording as a wavetable layer: its cycles one behind the other, 2048 samples each. */
export function asTable(one: RecordingItem): void {
  let id = "";
  edit(`Layer added: table ${one.name}`, (sound) => {
    if (sound.layers.length >= MOST_LAYERS) return sound;
    const made = newLayer(sound, "wavetable");
    id = made.id;
    const frames = Math.round(one.length_s * one.sample_rate);
    const table = {
      origin: "imported" as const,
      recording: one.digest,
      name: one.name.slice(0, 120),
      cycle_frames: cycleFrames(frames),
    };
    const source = { ...newSource("wavetable"), table, scan: "forwards" as const };
    return {
      ...sound,
      layers: [
        ...sound.layers,
        { ...made, name: one.name.slice(0, 60), source } as Sound["layers"][number],
      ],
    };
  });
  if (id) select({ kind: "layer", id });
}

/** The usual length of a cycle that a file of so many samples is full of. */
export function cycleFrames(frames: number): number {
  const usual = [2048, 1024, 512, 256, 4096, 600, 1000];
  return usual.find((length) => frames % length === 0) ?? Math.min(4096, Math.max(256, frames));
}

/** A recording as the impulse of a convolution at the end of the main chain. */
export function asImpulse(one: RecordingItem): void {
  edit(`Convolution with ${one.name}`, (sound) => {
    const part = {
      ...newProcessor(sound, "convolution"),
      impulse: "imported",
      recording: one.digest,
    };
    const chain = [...sound.main.chain, part as Sound["main"]["chain"][number]];
    return { ...sound, main: { ...sound.main, chain } };
  });
}

/** A recording as what the sound shall come near. */
export function asReference(one: RecordingItem): void {
  edit(`Reference: ${one.name}`, (sound) => ({
    ...sound,
    reference: { recording: one.digest, name: one.name.slice(0, 120), left_out: [] },
  }));
}

const MOST_NOTES = 16;

/** The first notes of a MIDI file as those of the hit; answers how many were left. */
export function asNotes(notes: MidiNote[], name: string): number {
  const kept = notes.slice(0, MOST_NOTES);
  const first = kept[0];
  if (!first) return 0;
  const end = Math.max(...kept.map(({ at_s, hold_s }) => at_s + hold_s));
  edit(`Notes of ${name}`, (sound) => ({
    ...sound,
    pattern: { ...sound.pattern, order: "off" as const },
    hit: {
      ...sound.hit,
      note: first.note,
      velocity: Math.max(1, first.velocity),
      hold_s: Math.min(60, Math.max(0.01, end)),
      further: kept.slice(1).map(({ note, at_s }) => ({ note, at_s: Math.min(60, at_s) })),
    },
  }));
  return notes.length - kept.length;
}
