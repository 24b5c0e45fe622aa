export { chordText, matches } from "./chords";
export { COMMANDS, HELD_KEYS, POINT_KEYS, showShortcuts } from "./commands";
