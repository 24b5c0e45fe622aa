import { describe, expect, it } from "vitest";
import { againWords, batchWords, doneOf } from "./batchWords";

const counts = (made: number, there: number, failed: number, left: number) => ({
  of: made + there + failed + left,
  made: Array.from({ length: made }, (_, n) => n),
  there: Array.from({ length: there }, (_, id) => ({
    file: {} as File,
    id,
    name: "",
    isNew: false,
  })),
  failed: Array.from({ length: failed }, () => ({ file: {} as File, reason: "" })),
  left: Array.from({ length: left }, () => ({}) as File),
});

describe("what became of files", () => {
  it.each([
    [counts(1, 0, 0, 0), "Imported."],
    [counts(8, 0, 0, 0), "All 8 imported."],
    [counts(0, 1, 0, 0), "The library already has this audio; nothing was added."],
    [counts(0, 3, 0, 0), "The library has all 3 already; nothing was added."],
    [
      counts(1, 1, 1, 1),
      "1 is imported, 1 was already there, 1 could not be imported, 1 was not sent.",
    ],
    [counts(5, 0, 2, 0), "5 are imported, 2 could not be imported."],
    [counts(5, 4, 0, 3), "5 are imported, 4 were already there, 3 were not sent."],
  ])("is reported", (batch, words) => {
    expect(batchWords(batch)).toBe(words);
  });

  it("counts what has ended, and what is left", () => {
    expect(doneOf(counts(3, 2, 1, 4))).toBe(6);
    expect(againWords(counts(3, 0, 0, 4))).toBe("Go on with 4");
    expect(againWords(counts(3, 0, 2, 4))).toBe("Try 6 again");
  });
});
