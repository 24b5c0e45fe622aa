import { chooseFiles } from "../../imports";
import {
  copyProcessor,
  findProcessor,
  hasCopied,
  pasteProcessor,
  redo,
  select,
  setView,
  switchProcessor,
  takeInHand,
  toggleEffects,
  toggleListen,
  toggleMatching,
  undo,
  useBench,
} from "../../sound";
import { goToPin } from "../judging";
import { openFinder } from "../parts";
import { playBench, shiftOctave } from "../playing";
import { zoomBy, zoomToSelection, zoomToStart } from "../timeline";
import type { Chord } from "./chords";

/**
 * Something that can be done on the Bench: declared here once, for its shortcut, the list of shortcuts
 * and the finder.
 */
export interface Command {
  name: string;
  /** Keys that do it; none where only the finder has it. */
  keys?: Chord[];
  /** How the keys are written where they are many. */
  written?: string;
  /** Other words that the finder finds it by; null where it is not listed there. */
  words: string | null;
  /** Whether it can be done now; always where nothing is said. */
  when?: () => boolean;
  run: (event?: KeyboardEvent) => void;
}

function selectedProcessor() {
  const { document, selection } = useBench.getState();
  return document && selection.kind === "processor"
    ? findProcessor(document, selection.id)
    : undefined;
}

/** Text that is selected is copied as text. */
const noTextSelected = () => window.getSelection()?.toString() === "";

function selectLayer(index: number): void {
  const layer = useBench.getState().document?.layers[index];
  if (layer) select({ kind: "layer", id: layer.id });
}

function editCurve(name: "level" | "pitch"): void {
  const { selection } = useBench.getState();
  if (selection.kind === "layer") takeInHand(selection.id, name);
}

const digitOf = (event?: KeyboardEvent) => Number(/\d$/.exec(event?.code ?? "")?.[0] ?? 1) - 1;

export const showShortcuts = () => window.dispatchEvent(new CustomEvent("nest-crate:keys"));

export const COMMANDS: Command[] = [
  { name: "Play", words: "space audition hear", run: () => void playBench() },
  {
    name: "Undo",
    keys: ["Ctrl+z"],
    words: "",
    run: undo,
  },
  { name: "Redo", keys: ["Ctrl+Shift+z", "Ctrl+y"], written: "Ctrl Shift Z", words: "", run: redo },
  {
    name: "Find a command, processor, parameter or sound",
    keys: ["Ctrl+k"],
    words: null,
    run: () => openFinder({ mode: "all" }),
  },
  {
    name: "Add a processor by typing; it plays while you choose",
    keys: ["/"],
    words: null,
    run: () => openFinder({ mode: "processor" }),
  },
  {
    name: "Bypass the selected processor",
    keys: ["b"],
    words: "switch off on",
    when: () => selectedProcessor() !== undefined,
    run: () => {
      const part = selectedProcessor();
      if (part) switchProcessor(part.id);
    },
  },
  {
    name: "Bypass all effects",
    keys: ["Shift+KeyB"],
    words: "bypass dry chains",
    run: toggleEffects,
  },
  { name: "Level-matched bypass", words: "loudness match", run: toggleMatching },
  {
    name: "Copy the selected processor",
    keys: ["Ctrl+c"],
    words: null,
    when: () => noTextSelected() && selectedProcessor() !== undefined,
    run: () => {
      const part = selectedProcessor();
      if (part) copyProcessor(part);
    },
  },
  {
    name: "Paste the processor after the selection",
    keys: ["Ctrl+v"],
    words: null,
    when: hasCopied,
    run: pasteProcessor,
  },
  {
    name: "Select a layer",
    keys: ["1", "2", "3", "4", "5", "6", "7", "8"],
    written: "1 to 8",
    words: null,
    run: (event) => selectLayer(digitOf(event)),
  },
  {
    name: "Edit the level curve of the layer",
    keys: ["Shift+KeyL"],
    words: null,
    run: () => editCurve("level"),
  },
  {
    name: "Edit the pitch curve of the layer",
    keys: ["Shift+KeyP"],
    words: null,
    run: () => editCurve("pitch"),
  },
  {
    name: "Go to a pinned state",
    keys: ["Shift+Digit1", "Shift+Digit2", "Shift+Digit3", "Shift+Digit4"],
    written: "Shift 1 to 4",
    words: null,
    run: (event) => goToPin(digitOf(event)),
  },
  { name: "Zoom in", keys: ["+", "="], written: "+", words: "ruler", run: () => zoomBy(0.5) },
  { name: "Zoom out", keys: ["-"], words: "ruler", run: () => zoomBy(2) },
  { name: "Show the first 50 ms", keys: ["9"], words: "zoom attack", run: zoomToStart },
  { name: "Zoom to the selection", keys: ["Shift+Digit0"], words: "zoom", run: zoomToSelection },
  { name: "Show everything", keys: ["0"], words: "zoom all", run: () => setView(null) },
  { name: "Keys an octave down", keys: ["z"], words: null, run: () => shiftOctave(-1) },
  { name: "Keys an octave up", keys: ["x"], words: null, run: () => shiftOctave(1) },
  { name: "Toggle listen on change", words: "silent mute", run: toggleListen },
  {
    name: "In context, and back",
    keys: ["c"],
    words: "try-out loop together beside others",
    run: () => window.dispatchEvent(new CustomEvent("nest-crate:context")),
  },
  {
    name: "Make variations (Batch)",
    words: "family round robin velocity layers notes spread vary batch",
    run: () => window.dispatchEvent(new CustomEvent("nest-crate:batch")),
  },
  {
    name: "Output and meters",
    words: "main level correlation",
    run: () => select({ kind: "main" }),
  },
  {
    name: "Import a file",
    words: "import drop wav flac mp3 midi sample reference",
    run: chooseFiles,
  },
  { name: "Notes of the hit", words: "chord pattern", run: () => select({ kind: "notes" }) },
  { name: "Keyboard shortcuts", keys: ["?"], words: "keys help", run: showShortcuts },
];

/** Keys that are held down, or that act where the focus is; listed, and handled there. */
export const HELD_KEYS: [string, string][] = [
  ["Space", "Play; hold it down to hold the note"],
  ["A W S E D F T G Y H U J K …", "Play notes, from the left C of the keys"],
];
export const POINT_KEYS: [string, string][] = [
  [
    "On a point: arrows",
    "Move it (Shift: ten times, Alt: a tenth); with a grid, from line to line",
  ],
  ["On a point: Enter, Ctrl A", "Select it, select all"],
  ["On a point: Delete", "Remove the selected points"],
];
