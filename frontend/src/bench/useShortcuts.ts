import { useEffect } from "react";
import { COMMANDS, matches } from "./commands";
import { inContext, playInContext } from "./context";
import { allNotesOff, letGo, noteOff, noteOfKey, noteOn, playHeld } from "./playing";

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    target.closest(
      "input:not([type=checkbox]):not([type=range]), select, textarea, [role=dialog], [role=menu]",
    ) !== null
  );
}

/** Space ticks a box that has the keyboard; buttons are pressed by Enter, so that Space can play. */
const isTicking = (target: EventTarget | null) =>
  target instanceof HTMLInputElement && target.type === "checkbox";

/** Does what a key stands for; false where it stands for nothing. */
function pressed(event: KeyboardEvent): boolean {
  if (event.code === "Space" && !event.ctrlKey && !event.metaKey && !event.altKey) {
    if (isTicking(event.target)) return false;
    if (!event.repeat) {
      if (inContext()) playInContext();
      else void playHeld();
    }
    return true;
  }
  const command = COMMANDS.find(({ keys }) => keys?.some((chord) => matches(event, chord)));
  if (command) {
    if (command.when && !command.when()) return false;
    command.run(event);
    return true;
  }
  if (event.ctrlKey || event.metaKey || event.altKey || event.shiftKey) return false;
  const note = noteOfKey(event.code);
  if (note === null) return false;
  if (!event.repeat) noteOn(note);
  return true;
}

/** The Bench's keys, as the declared commands say. */
export function useShortcuts(): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!isTyping(event.target) && pressed(event)) event.preventDefault();
    };
    const release = (event: KeyboardEvent) => {
      if (event.code === "Space") letGo();
      const note = noteOfKey(event.code);
      if (note !== null) noteOff(note);
    };
    window.addEventListener("keydown", press);
    window.addEventListener("keyup", release);
    window.addEventListener("blur", allNotesOff);
    return () => {
      window.removeEventListener("keydown", press);
      window.removeEventListener("keyup", release);
      window.removeEventListener("blur", allNotesOff);
      allNotesOff();
    };
  }, []);
}
