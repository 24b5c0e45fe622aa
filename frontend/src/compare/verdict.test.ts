import { expect, it } from "vitest";
import { chanceText, shuffled, verdictOf } from "./verdict";

it.each([
  [14, 16, 0.002, "You hear the difference."],
  [12, 16, 0.038, "You probably hear the difference."],
  [11, 16, 0.105, "Perhaps. More trials would tell."],
  [8, 16, 0.6, "No difference heard: guessing gives the same."],
  [4, 4, 0.0625, "Too few trials to say. Take eight at least."],
])("says of %d of %d (p %d): %s", (right, trials, chance, words) => {
  expect(verdictOf(right, trials, chance)).toBe(words);
});

it("writes chances with as many digits as they have", () => {
  expect([0.00001, 0.0384, 0.402, 1].map(chanceText)).toEqual([
    "p < 0.001",
    "p = 0.038",
    "p = 0.40",
    "p = 1.00",
  ]);
});

it("shuffles every side to some place, each as often as the others", () => {
  const first = [0, 0, 0];
  for (let n = 0; n < 3000; n++) {
    const order = shuffled(3);
    expect([...order].sort()).toEqual([0, 1, 2]);
    first[order[0] ?? 0] = (first[order[0] ?? 0] ?? 0) + 1;
  }
  for (const count of first) expect(Math.abs(count - 1000)).toBeLessThan(150);
});
