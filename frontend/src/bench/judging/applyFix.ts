import type { Fix } from "../../api";
import { withEdits, edit } from "../../sound";

/** Carries out what a check offers, as one step of the history. */
export function applyFix(fix: Fix): void {
  edit(`Fixed: ${fix.label.toLowerCase()}`, (sound) => withEdits(sound, fix.edits));
}
