import { expect, it } from "vitest";
import { differenceOf, framesOf, laidOut, peakOf } from "./aligned";

const samples = (...values: number[]) => Float32Array.from(values);

it("lays a side where it starts, with its gain, at the length of all", () => {
  const [laid] = laidOut([samples(1, 0.5)], { starts_s: 2 / 48000, gain_db: -20 }, 5);
  expect([...(laid ?? [])].map((one) => Number(one.toFixed(4)))).toEqual([0, 0, 0.1, 0.05, 0]);
});

it("cuts what would pass the end of the ruler", () => {
  const [laid] = laidOut([samples(1, 1, 1)], { starts_s: 1 / 48000, gain_db: 0 }, 2);
  expect([...(laid ?? [])]).toEqual([0, 1]);
});

it("takes one from the other, mono from both channels of stereo", () => {
  const left = differenceOf([samples(1, 2)], [samples(1, 1)]);
  expect(left.map((one) => [...one])).toEqual([[0, 1]]);
  const both = differenceOf([samples(1, 2), samples(3, 4)], [samples(1, 1)]);
  expect(both.map((one) => [...one])).toEqual([
    [0, 1],
    [2, 3],
  ]);
});

it("knows the largest sample of all, and how long the ruler is", () => {
  expect(peakOf([[samples(0.2, -0.7)], [samples(0.1)]])).toBeCloseTo(0.7);
  expect(framesOf({ length_s: 0.5 })).toBe(24000);
});
