import { expect, it } from "vitest";
import { compareAddress, sideOf, sidesIn, sideText, type Side } from "./sides";

const SIDES: Side[] = [
  { kind: "sample", id: 12 },
  { kind: "sound", id: 5, revision: null },
  { kind: "sound", id: 5, revision: 3, dry: true },
  { kind: "recording", digest: "0f".repeat(32) },
];

it.each(SIDES)("comes back from its address: %o", (side) => {
  expect(sideOf(sideText(side))).toEqual(side);
});

it.each([
  "",
  "sample",
  "sample.x",
  "sample.0",
  "sample.1.2",
  "sound.1.x",
  "sound.1.2.3",
  "sample.1.dry",
  "sound.dry",
  "take.1",
])("takes %o for no side", (text) => expect(sideOf(text)).toBeNull());

it("holds four sides at most, and leaves out what it does not know", () => {
  const address = compareAddress([...SIDES, ...SIDES]);
  const search = new URLSearchParams(`${address.split("?")[1]}&side=chain.1`);
  expect(sidesIn(search)).toEqual(SIDES);
  expect(compareAddress([])).toBe("/compare");
});
