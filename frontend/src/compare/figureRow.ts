/** Figures of which a row of a table is, and how they are written: the unit stands once, in its title. */
export const FIGURES = {
  loudness_lufs: { title: "Loudness", kind: "level", unit: "LUFS" },
  length_s: { title: "Length", kind: "time", unit: "" },
  decay_s: { title: "Decay", kind: "time", unit: "" },
  brightness_hz: { title: "Brightness", kind: "frequency", unit: "" },
  low_share_db: { title: "Low end", kind: "level", unit: "dB" },
} as const;

export type FigureName = keyof typeof FIGURES;

/** A row's unit, and its values in it; small enough to be read, the same for all. */
export function figureRow(
  name: FigureName,
  values: readonly number[],
): { unit: string; texts: string[] } {
  const { kind, unit } = FIGURES[name];
  const most = Math.max(0, ...values.map(Math.abs));
  const inAll = (factor: number, digits: number) =>
    values.map((value) => (value * factor).toFixed(digits).replace("-", "−"));
  if (kind === "level") return { unit, texts: inAll(1, 1) };
  if (kind === "time")
    return most >= 5 ? { unit: "s", texts: inAll(1, 1) } : { unit: "ms", texts: inAll(1000, 0) };
  return most >= 10_000
    ? { unit: "kHz", texts: inAll(0.001, 1) }
    : { unit: "Hz", texts: inAll(1, 0) };
}
