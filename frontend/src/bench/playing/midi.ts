import { create } from "zustand";
import { noteOff, noteOn } from "./keys";

type Status = "off" | "missing" | "refused" | "on";

interface MidiState {
  status: Status;
  /** Names of the devices that play. */
  devices: string[];
}

export const useMidi = create<MidiState>(() => ({ status: "off", devices: [] }));

const NOTE_OFF = 0x80;
const NOTE_ON = 0x90;

/** What a message of a MIDI device does: note on with velocity, note off, anything else nothing. */
export function handleMidi(data: Uint8Array | null): void {
  const [status = 0, note = 0, velocity = 0] = data ?? [];
  const kind = status & 0xf0;
  if (kind === NOTE_ON && velocity > 0) noteOn(note, velocity);
  else if (kind === NOTE_OFF || kind === NOTE_ON) noteOff(note);
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

/** The simulated device that ships with the app, for those who have none at hand. */
export async function connectSimulatedDevice(): Promise<void> {
  await new Promise<void>((done, failed) => {
    const script = document.createElement("script");
    script.src = "/tools/simulated-midi.js";
    script.onload = () => done();
    script.onerror = () => failed(new Error("The simulated device could not be loaded"));
    document.head.append(script);
  });
  await connectMidi();
  window.dispatchEvent(new CustomEvent("nest-crate:simulated-midi"));
}
