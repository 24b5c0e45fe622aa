import { ChevronDown } from "lucide-react";
import { ActionMenu } from "../ui";
import { connectMidi, connectSimulatedDevice, useMidi } from "./devices";

const WORDS = {
  off: "off",
  missing: "not supported by this browser",
  refused: "not allowed",
  on: "no device",
} as const;

/** Which MIDI devices play, and how to let them; the simulated one begins with some notes. */
export function MidiMenu({ firstNotes }: { firstNotes?: readonly number[] }) {
  const { status, devices } = useMidi();
  const words = devices.length > 0 ? devices.join(", ") : WORDS[status];
  return (
    <ActionMenu
      className="inline-flex min-h-6 max-w-[180px] items-center gap-1 rounded-control border border-line-strong bg-sheet px-2 text-[12px] hover:bg-band"
      anchor="top end"
      actions={[
        { label: "Use MIDI devices", act: () => void connectMidi() },
        { label: "Use the simulated keyboard", act: () => void connectSimulatedDevice(firstNotes) },
      ]}
    >
      <span className="truncate">MIDI: {words}</span> <ChevronDown size={12} aria-hidden />
    </ActionMenu>
  );
}
