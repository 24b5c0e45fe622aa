import type { Pigment } from "../api";

/** Each pigment with its glyph, so that colour is never the only sign. */
export const PIGMENTS: Record<Pigment, { glyph: string; colour: string }> = {
  rust: { glyph: "●", colour: "var(--rust)" },
  teal: { glyph: "▲", colour: "var(--teal)" },
  ochre: { glyph: "■", colour: "var(--ochre)" },
  plum: { glyph: "◆", colour: "var(--plum)" },
  moss: { glyph: "⬟", colour: "var(--moss)" },
  slate: { glyph: "✚", colour: "var(--slate)" },
};

export const PIGMENT_ORDER: Pigment[] = ["rust", "teal", "ochre", "plum", "moss", "slate"];
