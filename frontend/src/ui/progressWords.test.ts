import { describe, expect, it } from "vitest";
import { progressWords, timeWords } from "./progressWords";

describe("how far work is", () => {
  it.each([
    [{ done: 0, of: 0, seconds: 3 }, "beginning"],
    [{ done: 0, of: 40, seconds: 3 }, "0 of 40"],
    [{ done: 1, of: 40, seconds: 3 }, "1 of 40"],
    [{ done: 30, of: 40, seconds: 0.5 }, "30 of 40"],
    [{ done: 20, of: 40, seconds: 10 }, "20 of 40 · 2.0 a second · 10 s left"],
    [{ done: 300, of: 900, seconds: 10 }, "300 of 900 · 30 a second · 20 s left"],
    [{ done: 4, of: 40, seconds: 60 }, "4 of 40 · 4 a minute · 9 min 0 s left"],
  ])("%o reads %s", (work, words) => expect(progressWords(work)).toBe(words));

  it.each([
    [0, "0 s"],
    [0.2, "1 s"],
    [59.5, "60 s"],
    [61, "1 min 1 s"],
    [3600, "1 h 0 min"],
    [7325, "2 h 2 min"],
  ])("%s seconds read %s", (seconds, words) => expect(timeWords(seconds)).toBe(words));
});
