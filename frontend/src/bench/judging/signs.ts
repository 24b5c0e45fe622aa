import type { Remark } from "../../api";

/** How each severity is shown: never by colour alone. */
export const SIGNS: Record<Remark["severity"], { sign: string; tone: string; words: string }> = {
  good: { sign: "✓", tone: "text-good", words: "good" },
  warn: { sign: "!", tone: "text-warn", words: "look" },
  bad: { sign: "✕", tone: "text-bad", words: "wrong" },
};
