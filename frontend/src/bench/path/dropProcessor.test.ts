import { describe, expect, it } from "vitest";
import { gapAt } from "./dropProcessor";

/** Five cards of 100 by 80 in two rows. */
const boxes = [0, 1, 2, 3, 4].map((n) => {
  const [left, top] = [(n % 3) * 110, Math.floor(n / 3) * 90];
  return { left, top, width: 100, bottom: top + 80 };
});

describe("where a processor is dropped", () => {
  it.each<[string, number, number, number]>([
    ["left of the first card", 10, 40, 0],
    ["right of the middle of the first card", 70, 40, 1],
    ["behind the last card of a row", 400, 40, 3],
    ["left in the second row", 10, 130, 3],
    ["between two cards of the second row", 105, 130, 4],
    ["behind all", 400, 130, 5],
    ["below all", 10, 400, 5],
  ])("%s", (_, x, y, gap) => expect(gapAt({ x, y }, boxes)).toBe(gap));
});
