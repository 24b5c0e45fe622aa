import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDown } from "lucide-react";
import { connectMidi, connectSimulatedDevice, useMidi } from "./midi";

const WORDS = {
  off: "off",
  missing: "not in this browser",
  refused: "not allowed",
  on: "no device",
} as const;

/** Which MIDI devices play, and how to let them. */
export function MidiMenu() {
  const { status, devices } = useMidi();
  const words = devices.length > 0 ? devices.join(", ") : WORDS[status];
  const items: [string, () => Promise<void>][] = [
    ["Listen to MIDI devices", connectMidi],
    ["Use the simulated keyboard", connectSimulatedDevice],
  ];
  return (
    <Menu>
      <MenuButton className="inline-flex min-h-6 max-w-[180px] items-center gap-1 truncate rounded-control border border-line-strong bg-sheet px-2 text-[12px] hover:bg-band">
        <span className="truncate">MIDI: {words}</span> <ChevronDown size={12} aria-hidden />
      </MenuButton>
      <MenuItems
        anchor="top end"
        className="z-30 rounded-card border border-line-strong bg-sheet p-1 text-[12.5px]"
      >
        {items.map(([label, act]) => (
          <MenuItem key={label}>
            <button
              type="button"
              onClick={() => void act()}
              className="block w-52 rounded-sm px-2 py-1 text-left data-focus:bg-band"
            >
              {label}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
