import { expect, it } from "vitest";
import { standsOut } from "./standsOut";

// Quartiles 8 and 12: the middle half is 4 wide, so the fences lie at 2 and 18.
it.each([
  [10, null],
  [2, null],
  [1.9, "below"],
  [18, null],
  [18.1, "above"],
])("beside quartiles of 8 and 12, %d: %s", (value, out) => {
  expect(standsOut(value, 8, 12)).toBe(out);
});

it("takes whatever differs for standing out where all others are the same", () => {
  expect(standsOut(1, 1, 1)).toBeNull();
  expect(standsOut(1.1, 1, 1)).toBe("above");
});
