import { describe, expect, it } from "vitest";
import { likenessWords, noteChange } from "./rerenderWords";

const figures = (loudness_lufs: number, note: string | null = "D3", cents: number | null = 0) => ({
  loudness_lufs,
  note,
  cents,
});

describe("a new render beside the present one", () => {
  it.each([
    [{ same: true, likeness: 0 }, -20, "the same samples"],
    [{ same: false, likeness: 0.1 }, -20.2, "nearly identical"],
    [{ same: false, likeness: 0.1 }, -26, "same apart from level"],
    [{ same: false, likeness: 0.9 }, -26, "similar"],
    [{ same: false, likeness: 4 }, -20, "other"],
  ])("%o at %s LUFS is %s", (compared, loudness, words) => {
    const both = { before: figures(-20), after: figures(loudness) };
    expect(likenessWords({ ...compared, ...both })).toBe(words);
  });

  it.each([
    [figures(0, "D3", -1), figures(0, "D3", 2), /^D3 \S+.* → .*2/],
    [figures(0, "D3", -1), figures(0, "D3", -1), /^D3 [^→]*$/],
    [figures(0, "D3", 0), figures(0, "E3", 0), /^D3.* → E3/],
    [figures(0, null, null), figures(0, "E3", 0), /^– → E3/],
    [figures(0, null, null), figures(0, null, null), /^–$/],
  ])("from %o to %o its note is written once", (before, after, text) => {
    expect(noteChange(before, after)).toMatch(text);
  });
});
