import { describe, expect, it } from "vitest";
import { matchesWords } from "./matchesWords";

const latch = {
  name: "Potting shed latch",
  category: "impact",
  tags: ["dry", "wood"],
  description: "A tired one.",
};

describe("words typed to find a sound", () => {
  it.each([
    ["", true],
    ["  ", true],
    ["latch", true],
    ["LATCH dry", true],
    ["tired  wood", true],
    ["impa", true],
    ["latch brass", false],
    ["latches", false],
  ])("“%s” is found: %s", (words, found) => expect(matchesWords(latch, words)).toBe(found));
});
