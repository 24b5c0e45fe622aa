import { create } from "zustand";

type Status = "off" | "missing" | "refused" | "on";

interface MidiState {
  status: Status;
  /** Names of the devices that play. */
  devices: string[];
}

export const useMidi = create<MidiState>(() => ({ status: "off", devices: [] }));

/** What plays the notes of devices: the keys of the Bench, the pads of a kit. */
export interface NotePlayer {
  on: (note: number, velocity: number) => void;
  off?: (note: number) => void;
}

const players = new Set<NotePlayer>();

/** Let a screen play what devices send, until the function it gets is called. */
export function playNotes(player: NotePlayer): () => void {
  players.add(player);
  return () => void players.delete(player);
}

const NOTE_OFF = 0x80;
const NOTE_ON = 0x90;

/** What a message of a MIDI device does: note on with velocity, note off, anything else nothing. */
export function handleMidi(data: Uint8Array | null): void {
  const [status = 0, note = 0, velocity = 0] = data ?? [];
  const kind = status & 0xf0;
  if (kind === NOTE_ON && velocity > 0) for (const player of players) player.on(note, velocity);
  else if (kind === NOTE_OFF || kind === NOTE_ON) for (const player of players) player.off?.(note);
}

/** Listen to every MIDI device that the browser offers, and to those plugged in later. */
export async function connectMidi(): Promise<void> {
  if (!("requestMIDIAccess" in navigator)) {
    useMidi.setState({ status: "missing", devices: [] });
    return;
  }
  try {
    const access = await navigator.requestMIDIAccess();
    const listen = () => {
      const inputs = [...access.inputs.values()];
      for (const input of inputs) input.onmidimessage = ({ data }) => handleMidi(data);
      useMidi.setState({ status: "on", devices: inputs.map(({ name }) => name ?? "device") });
    };
    access.onstatechange = listen;
    listen();
  } catch {
    useMidi.setState({ status: "refused", devices: [] });
  }
}

/**
 * The simulated device that ships with the app, for those who have none at hand. It plays the notes
 * one after the other, or a chord and a line of its own.
 */
export async function connectSimulatedDevice(notes?: readonly number[]): Promise<void> {
  await new Promise<void>((done, failed) => {
    const script = document.createElement("script");
    script.src = "/tools/simulated-midi.js";
    script.onload = () => done();
    script.onerror = () => failed(new Error("The simulated device could not be loaded"));
    document.head.append(script);
  });
  await connectMidi();
  const detail = notes?.map((note, n) => [note, 100, 300 * n, 150]);
  window.dispatchEvent(new CustomEvent("nest-crate:simulated-midi", { detail }));
}
