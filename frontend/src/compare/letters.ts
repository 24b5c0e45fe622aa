/** A side's letter and colour, so that colour is never the only sign. */
export const LETTERS = [
  { letter: "A", colour: "var(--slate)" },
  { letter: "B", colour: "var(--rust)" },
  { letter: "C", colour: "var(--ochre)" },
  { letter: "D", colour: "var(--plum)" },
] as const;

const NONE = { letter: "?", colour: "var(--ink)" };

export const lettersOf = (n: number): { letter: string; colour: string } => LETTERS[n] ?? NONE;

/** What a side is called. */
export interface Named {
  name: string;
  detail: string;
  in_library: boolean;
}
