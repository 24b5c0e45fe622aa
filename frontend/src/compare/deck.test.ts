import { expect, it } from "vitest";
import { levelOf } from "./deck";

const levels = (heard: number | "difference", mix: number, sides = 3) =>
  Array.from({ length: sides + 1 }, (_, n) => levelOf(n, heard, mix, sides));

it("lets one side be heard alone", () => {
  expect(levels(0, 0)).toEqual([1, 0, 0, 0]);
  expect(levels(2, 0)).toEqual([0, 0, 1, 0]);
});

it("mixes a side with the next, the last with the first", () => {
  expect(levels(1, 0.25)).toEqual([0, 0.75, 0.25, 0]);
  expect(levels(2, 1)).toEqual([1, 0, 0, 0]);
});

it("lets the difference signal be heard in place of all", () => {
  expect(levels("difference", 0.5)).toEqual([0, 0, 0, 1]);
});
