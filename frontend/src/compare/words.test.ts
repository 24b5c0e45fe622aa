import { expect, it } from "vitest";
import { bandText, boundedDb, stretchText } from "./words";

it.each([
  [25, 18_000, "all bands"],
  [25, 150, "below 150 Hz"],
  [4000, 18_000, "above 4 kHz"],
  [2000, 5600, "2–5.6 kHz"],
  [220, 700, "220–700 Hz"],
  [500, 2800, "500 Hz – 2.8 kHz"],
])("says %d to %d Hz as %s", (from, to, words) => expect(bandText(from, to)).toBe(words));

it.each([
  [0.004, 0.028, "4–28 ms"],
  [0, 0.9996, "0–1000 ms"],
  [0.5, 2.125, "0.5–2.13 s"],
])("says %d to %d s as %s", (from, to, words) => expect(stretchText(from, to)).toBe(words));

it("says where a level is beyond the map", () => {
  expect([-30, 30, 7.54].map((db) => boundedDb(db, 30))).toEqual([
    "−30 dB or more",
    "+30 dB or more",
    "+7.5 dB",
  ]);
});
