import { useEffect } from "react";
import { goToPin } from "./judging";
import { allNotesOff, noteOff, noteOfKey, noteOn, shiftOctave, letGo, playHeld } from "./playing";
import {
  findProcessor,
  copyProcessor,
  hasCopied,
  pasteProcessor,
  toggleEffects,
  switchProcessor,
  redo,
  select,
  setView,
  takeInHand,
  undo,
  useBench,
} from "../sound";
import { openFinder } from "./parts";
import { zoomBy, zoomToSelection, zoomToStart } from "./timeline";

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

function switchSelected(): void {
  const { selection } = useBench.getState();
  if (selection.kind === "processor") switchProcessor(selection.id);
}

function copySelected(): boolean {
  const { document, selection } = useBench.getState();
  // Words that are marked are copied as words.
  const marked = window.getSelection()?.toString() !== "";
  const part =
    document && selection.kind === "processor" ? findProcessor(document, selection.id) : undefined;
  if (!part || marked) return false;
  copyProcessor(part);
  return true;
}

function selectLayer(index: number): void {
  const layer = useBench.getState().document?.layers[index];
  if (layer) select({ kind: "layer", id: layer.id });
}

function takeCurve(name: "level" | "pitch"): void {
  const { selection } = useBench.getState();
  if (selection.kind === "layer") takeInHand(selection.id, name);
}

const SHIFTED: Partial<Record<string, () => void>> = {
  Digit1: () => goToPin(0),
  Digit2: () => goToPin(1),
  Digit3: () => goToPin(2),
  Digit4: () => goToPin(3),
  Digit0: zoomToSelection,
  KeyB: toggleEffects,
  KeyL: () => takeCurve("level"),
  KeyP: () => takeCurve("pitch"),
};

const PLAIN: Partial<Record<string, () => void>> = {
  b: switchSelected,
  "+": () => zoomBy(0.5),
  "=": () => zoomBy(0.5),
  "-": () => zoomBy(2),
  "0": () => setView(null),
  "9": zoomToStart,
  z: () => shiftOctave(-1),
  x: () => shiftOctave(1),
  "/": () => openFinder({ mode: "processor" }),
  "?": () => window.dispatchEvent(new CustomEvent("nest-crate:keys")),
};

/** Does what a key stands for; false where it stands for nothing. */
function pressed(event: KeyboardEvent): boolean {
  const command = event.ctrlKey || event.metaKey;
  const key = event.key.toLowerCase();
  if (command) {
    if (key === "z") (event.shiftKey ? redo : undo)();
    else if (key === "y") redo();
    else if (key === "k") openFinder({ mode: "all" });
    else if (key === "c") return copySelected();
    else if (key === "v" && hasCopied()) pasteProcessor();
    else return false;
    return true;
  }
  if (event.altKey) return false;
  if (event.code === "Space") {
    if (isTicking(event.target)) return false;
    if (!event.repeat) void playHeld();
    return true;
  }
  const act = (event.shiftKey ? SHIFTED[event.code] : undefined) ?? PLAIN[key];
  if (act) act();
  else if (/^[1-8]$/.test(key)) selectLayer(Number(key) - 1);
  else {
    const note = event.shiftKey ? null : noteOfKey(event.code);
    if (note === null) return false;
    if (!event.repeat) noteOn(note);
  }
  return true;
}

/** The Bench's keys; ShortcutList names them for people. */
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
