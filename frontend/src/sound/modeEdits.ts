import type { ModeChange, StruckSource } from "../api";

const UNCHANGED = { shift_cent: 0, level_db: 0, ring: 1, mute: false };
const bounded = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

/** What was changed of a mode by hand, or nothing. */
export const changeOf = (source: StruckSource, mode: number): ModeChange =>
  source.changes.find((one) => one.mode === mode) ?? { mode, ...UNCHANGED };

/** The changes with one mode's put again; a mode that is as its body has it needs none. */
export function withMode(
  source: StruckSource,
  mode: number,
  patch: Partial<ModeChange>,
): ModeChange[] {
  const wanted = { ...changeOf(source, mode), ...patch };
  const next: ModeChange = {
    mode,
    shift_cent: bounded(wanted.shift_cent, -3600, 3600),
    level_db: bounded(wanted.level_db, -60, 24),
    ring: bounded(wanted.ring, 0.05, 20),
    mute: wanted.mute,
  };
  const others = source.changes.filter((one) => one.mode !== mode);
  const plain =
    next.shift_cent === 0 && next.level_db === 0 && next.ring === 1 && next.mute === false;
  return plain ? others : [...others, next].sort((a, b) => a.mode - b.mode);
}
