import { expect, it } from "vitest";
import { nextNumber } from "./releaseNumbers";

it.each([
  [null, [], "1.0.0"],
  ["1.2.3", [], "1.2.4"],
  ["1.2.3", ["words"], "1.2.4"],
  ["1.2.3", ["words", "sound"], "1.3.0"],
  ["1.2.3", ["added"], "1.3.0"],
  ["1.2.3", ["added", "renamed"], "2.0.0"],
  ["1.9.9", ["removed"], "2.0.0"],
])("after %s with %o comes %s", (since, kinds, wanted) => {
  expect(nextNumber(since, kinds)).toBe(wanted);
});
