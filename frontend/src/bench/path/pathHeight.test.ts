import { describe, expect, it } from "vitest";
import { withChain } from "../../sound";
import { emptySound, newProcessor } from "../../sound/edits";
import { naturalHeight } from "./pathHeight";

const WINDOW = 1600;
const plain = emptySound("Test");
const layer = plain.layers[0]?.id ?? "";

describe("the natural height of the path", () => {
  it("is that of one row of cards for a plain sound", () => {
    const one = withChain(plain, [newProcessor(plain, "drive")], layer);
    expect(naturalHeight(one, WINDOW)).toBe(naturalHeight(plain, WINDOW));
  });

  it("has a row for each branch of a fork, and for each part of a split bus", () => {
    const forked = withChain(plain, [newProcessor(plain, "fork")], layer);
    expect(naturalHeight(forked, WINDOW)).toBeGreaterThan(naturalHeight(plain, WINDOW) + 80);
    const drive = [newProcessor(plain, "drive")];
    const bus = { id: "b", name: "B", to: "main", mute: false, each_note: false, split: true };
    const levels = { crossover_hz: 150, low_db: 0, high_db: 0, level_db: 0 };
    const split = { ...plain, buses: [{ ...bus, ...levels, chain: drive, low_chain: drive }] };
    expect(naturalHeight(split, WINDOW)).toBeGreaterThan(naturalHeight(plain, WINDOW) + 80);
  });

  it("leaves the lanes most of the window", () => {
    const many = { ...plain, layers: Array.from({ length: 8 }, () => plain.layers[0] as never) };
    expect(naturalHeight(many, 600)).toBeLessThanOrEqual(210);
  });
});
