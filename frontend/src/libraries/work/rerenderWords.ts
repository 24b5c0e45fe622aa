import { centsText } from "../../ui";
import { noteText } from "../common";

interface Figures {
  loudness_lufs: number;
  note: string | null;
  cents: number | null;
}
interface Compared {
  same: boolean;
  /** Distance in features, which know nothing of the level. */
  likeness: number;
  before: Figures;
  after: Figures;
}

/** How a new render sounds beside the present one. */
export function likenessWords({ same, likeness, before, after }: Compared): string {
  if (same) return "the same samples";
  const louder = Math.abs(after.loudness_lufs - before.loudness_lufs) > 0.5;
  if (likeness < 0.3) return louder ? "same apart from level" : "nearly identical";
  return likeness < 1.5 ? "similar" : "other";
}

/** The note before and after; only once where it is the same. */
export function noteChange(before: Figures, after: Figures): string {
  if (before.note !== after.note) return `${noteText(before)} → ${noteText(after)}`;
  if (before.cents === null || after.cents === null) return noteText(after);
  const [was, is] = [centsText(before.cents), centsText(after.cents)];
  return was === is ? noteText(after) : `${after.note} ${was} → ${is}`;
}
