import { describe, expect, it } from "vitest";
import { merged, same } from "./merge";

const layer = (id: string, more: object = {}) => ({ id, level_db: 0, pan: 0, ...more });
const base = {
  name: "Kick",
  tempo_bpm: 120,
  layers: [layer("a"), layer("b")],
  source: { kind: "tone", shape: "sine" },
  points: [0, 1, 2],
};

describe("what two people made of one document", () => {
  it("goes together where they changed different fields", () => {
    const mine = { ...base, tempo_bpm: 99, layers: [layer("a", { level_db: -3 }), layer("b")] };
    const theirs = { ...base, name: "Kiln", layers: [layer("a", { pan: 0.5 }), layer("b")] };
    const { document, conflicts } = merged(base, mine, theirs);
    expect(conflicts).toEqual([]);
    expect(document).toEqual({
      ...base,
      name: "Kiln",
      tempo_bpm: 99,
      layers: [layer("a", { level_db: -3, pan: 0.5 }), layer("b")],
    });
  });

  it("keeps what each added, where it was added", () => {
    const mine = { ...base, layers: [layer("a"), layer("m"), layer("b")] };
    const theirs = { ...base, layers: [layer("t"), layer("a"), layer("b"), layer("u")] };
    const { document, conflicts } = merged(base, mine, theirs);
    expect(conflicts).toEqual([]);
    expect(document.layers.map(({ id }) => id)).toEqual(["t", "a", "m", "b", "u"]);
  });

  it("lets go what one removed and the other left alone", () => {
    const { document } = merged(base, { ...base, layers: [layer("a")] }, { ...base, name: "x" });
    expect(document.layers.map(({ id }) => id)).toEqual(["a"]);
  });

  it("takes the new order of the one who changed it", () => {
    const mine = { ...base, layers: [layer("b"), layer("a")] };
    const theirs = { ...base, layers: [layer("a"), layer("b"), layer("c")] };
    expect(merged(base, mine, theirs).document.layers.map(({ id }) => id)).toEqual(["b", "c", "a"]);
    expect(merged(base, theirs, mine).document.layers.map(({ id }) => id)).toEqual(["b", "c", "a"]);
  });

  it("says where both changed the same field, and prefers one", () => {
    const mine = { ...base, tempo_bpm: 99, layers: [layer("a", { pan: 1 }), layer("b")] };
    const theirs = { ...base, tempo_bpm: 101, layers: [layer("a", { pan: -1 }), layer("b")] };
    const kept = merged(base, mine, theirs);
    expect(kept.conflicts).toEqual([
      { path: ["tempo_bpm"], mine: 99, theirs: 101 },
      { path: ["layers", "a", "pan"], mine: 1, theirs: -1 },
    ]);
    expect(kept.document).toEqual(mine);
    expect(merged(base, mine, theirs, "theirs").document).toEqual(theirs);
  });

  it("says where one removed what the other changed", () => {
    const mine = { ...base, layers: [layer("a")] };
    const theirs = { ...base, layers: [layer("a"), layer("b", { pan: 1 })] };
    expect(merged(base, mine, theirs).conflicts).toEqual([
      { path: ["layers", "b"], mine: undefined, theirs: layer("b", { pan: 1 }) },
    ]);
    expect(merged(base, mine, theirs, "theirs").document.layers).toEqual(theirs.layers);
  });

  it("does not mix two kinds, nor two lists of numbers", () => {
    const mine = { ...base, source: { kind: "noise", shape: "sine" }, points: [0, 1] };
    const theirs = { ...base, source: { kind: "tone", shape: "saw" }, points: [1, 2, 3] };
    const { conflicts } = merged(base, mine, theirs);
    expect(conflicts.map(({ path }) => path.join("."))).toEqual(["source", "points"]);
  });

  it("finds nothing to ask where both did the same", () => {
    const both = { ...base, tempo_bpm: 99 };
    expect(merged(base, both, { ...both })).toEqual({ document: both, conflicts: [] });
  });
});

describe("values", () => {
  it("are the same in any order of their fields, and not in any order of lists", () => {
    expect(same({ a: 1, b: [{ c: 2 }] }, { b: [{ c: 2 }], a: 1 })).toBe(true);
    expect(same([1, 2], [2, 1])).toBe(false);
    expect(same({ a: null }, {})).toBe(false);
    expect(same({ a: undefined }, {})).toBe(true);
  });
});
