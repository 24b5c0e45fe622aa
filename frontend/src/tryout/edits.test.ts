import { describe, expect, it } from "vitest";
import { TRYOUT_DEFAULTS, type TryOut, type TryOutPart } from "../api";
import {
  freshId,
  mayDuck,
  placeAt,
  shifted,
  withDuck,
  withHits,
  withNewPart,
  withoutHits,
  withoutPart,
  withPartCopied,
  withPartMoved,
} from "./edits";

const part = (id: string, more: Partial<TryOutPart> = {}): TryOutPart => ({
  ...TRYOUT_DEFAULTS.part,
  id,
  name: id,
  plays: { kind: "sound", sound: 1, revision: null },
  ...more,
});
const tryOut = (...parts: TryOutPart[]): TryOut => ({
  ...TRYOUT_DEFAULTS.tryout,
  name: "Groove",
  tempo_bpm: 120,
  parts,
});
const hit = (at_s: number, beats?: number) => ({
  ...TRYOUT_DEFAULTS.hit,
  at_s,
  in_beats: beats === undefined ? {} : { at_s: beats },
});
const duck = (by: string, of: string) => ({ ...TRYOUT_DEFAULTS.duck, part: of, by });

describe("places of hits", () => {
  it("lie on the grid in beats, or in seconds where there is none", () => {
    const now = tryOut();
    expect(placeAt(now, 0.61, 0.25)).toMatchObject({ at_s: 0.625, in_beats: { at_s: 1.25 } });
    expect(placeAt(now, 0.61, 1 / 3).in_beats.at_s).toBeCloseTo(4 / 3, 9);
    expect(placeAt(now, 0.613, null)).toEqual({ at_s: 0.613, in_beats: {}, and_seconds: {} });
    expect(placeAt(now, -2, 1).at_s).toBe(0);
    expect(placeAt(now, 500, null).at_s).toBe(120);
  });

  it("are kept as they were kept when they are moved", () => {
    const now = tryOut();
    expect(shifted(now, hit(0.5, 1), 0.25)).toMatchObject({ at_s: 0.75, in_beats: { at_s: 1.5 } });
    expect(shifted(now, hit(0.5), 0.01).at_s).toBeCloseTo(0.51);
    expect(shifted(now, hit(0.5), 0.01).in_beats).toEqual({});
    expect(shifted(now, hit(0.1, 0.2), -9)).toMatchObject({ at_s: 0, in_beats: { at_s: 0 } });
  });

  it("change and go by their numbers", () => {
    const now = tryOut(part("a", { hits: [hit(0), hit(1), hit(2)] }));
    const louder = withHits(now, "a", [1], (one) => ({ ...one, velocity: 7 }));
    expect(louder.parts[0]?.hits.map(({ velocity }) => velocity)).toEqual([100, 7, 100]);
    expect(withoutHits(now, "a", [0, 2]).parts[0]?.hits.map(({ at_s }) => at_s)).toEqual([1]);
  });
});

describe("parts", () => {
  it("get ids of their own, whatever they are called", () => {
    const now = tryOut(part("kiln-door-kick"));
    expect(freshId(now, "Kiln door kick")).toBe("kiln-door-kick-2");
    expect(freshId(now, "鐘")).toBe("part");
    expect(
      withNewPart(now, "Bed", { kind: "bed", sample: 1, ...bed }).document.parts[1]?.hits,
    ).toEqual([]);
  });

  it("take along what refers to them when they go", () => {
    const now = {
      ...tryOut(part("a"), part("b")),
      ducks: [duck("a", "b")],
      game: { ...TRYOUT_DEFAULTS.game, part: "b", bed: "a" },
    };
    expect(withoutPart(now, "a")).toMatchObject({ ducks: [], game: { part: "b", bed: null } });
    expect(withoutPart(now, "b").game).toBeNull();
  });

  it("are moved within the list and copied beside themselves", () => {
    const now = tryOut(part("a"), part("b"), part("c"));
    const ids = (one: TryOut) => one.parts.map(({ id }) => id).join("");
    expect(ids(withPartMoved(now, "a", 1))).toBe("bac");
    expect(withPartMoved(now, "a", -1)).toBe(now);
    expect(withPartCopied(now, "b").parts.map(({ name }) => name)).toEqual(["a", "b", "b 2", "c"]);
  });

  it("are only offered ducks that close no circle", () => {
    const now = withDuck(tryOut(part("a"), part("b"), part("c")), duck("a", "b"));
    const offered = (id: string) => mayDuck(now, id).map((one) => one.id);
    expect(offered("a")).toEqual(["c"]);
    expect(offered("b")).toEqual(["c"]);
    expect(offered("c")).toEqual(["a", "b"]);
  });
});

const bed = { tempo_bpm: 0, first_beat_s: 0, follow: true, loop: true };
