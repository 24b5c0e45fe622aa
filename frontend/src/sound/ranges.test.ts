import { describe, expect, it } from "vitest";
import type { Link, Mover, Parameter, Sound } from "../api/types";
import { withChain } from "./chains";
import { completed, emptySound, newProcessor } from "./edits";
import { sweptStates } from "../bench/path/picture/swept";
import { chordName, notesWords, transposed, withChord } from "../bench/playing/chords";
import { newMover, valueAt, withLink } from "./moverEdits";
import { heldLink, learned, linkRange, moverSpan, withLinkRange, withValueAt } from "./ranges";

const start = emptySound("Test");
const filter = { ...newProcessor(start, "filter"), id: "f" };
const lfo = { ...newMover(start, "lfo"), id: "l" } as Extract<Mover, { kind: "lfo" }>;
const macro = { ...newMover(start, "macro"), id: "m" };
const base: Sound = { ...withChain(start, [filter], "main"), movers: [lfo, macro] };
const cutoff: Parameter = {
  name: "cutoff_hz",
  label: "Cutoff",
  unit: "Hz",
  minimum: 10,
  maximum: 20000,
  default: 2000,
  scale: "log",
  step: 10,
  whole: false,
  help: "",
  octaves: true,
};
const mix: Parameter = {
  ...cutoff,
  octaves: false,
  name: "mix",
  unit: "percent",
  minimum: 0,
  maximum: 1,
};
const link = (mover: string, target: string, amount: number): Link => ({
  mover,
  target,
  amount,
  bend: 0,
  scaled_by: null,
  law: "plain" as const,
});

describe("ranges", () => {
  it("know how far movers go", () => {
    expect(moverSpan(lfo)).toEqual({ from: -1, to: 1 });
    expect(moverSpan({ ...lfo, one_sided: true })).toEqual({ from: 0, to: 1 });
    expect(moverSpan(macro)).toEqual({ from: 0, to: 1 });
    expect(moverSpan({ ...newMover(start, "steps"), id: "s" })).toEqual({ from: 0, to: 1 });
  });

  it("are written in the target's own unit", () => {
    const twoSided = withLink(base, link("l", "f.cutoff_hz", 1));
    expect(linkRange(twoSided, link("l", "f.cutoff_hz", 1), cutoff)).toEqual({
      from: 1000,
      to: 4000,
    });
    expect(linkRange(base, link("m", "f.mix", -0.5), mix)).toEqual({ from: 1, to: 0.5 });
  });

  it("set base and amount so that both ends are met", () => {
    const moved = link("l", "f.cutoff_hz", 1);
    const set = withLinkRange(withLink(base, moved), moved, cutoff, { from: 500, to: 8000 });
    expect(valueAt(set, "f.cutoff_hz")).toBeCloseTo(2000, 3);
    expect(set.links[0]?.amount).toBeCloseTo(2, 5);
    const one = link("m", "f.mix", -0.5);
    const less = withLinkRange(withLink(base, one), one, mix, { from: 0.8, to: 0.2 });
    expect(valueAt(less, "f.mix")).toBeCloseTo(0.8, 6);
    expect(less.links[0]?.amount).toBeCloseTo(-0.6, 6);
  });

  it("hold a link still at a place of its range", () => {
    const moved = link("l", "f.cutoff_hz", 2);
    const still = heldLink(withLink(base, moved), moved, 0.5);
    expect(still.links).toEqual([{ ...moved, mover: "steps-1", amount: 0 }]);
    expect(heldLink(withLink(base, moved), moved, 1).links[0]?.amount).toBe(2);
  });

  it("put values anywhere", () => {
    expect(valueAt(withValueAt(base, "main.level_db", -3), "main.level_db")).toBe(-3);
    expect(
      valueAt(withValueAt(base, "tone-1.source.unison.voices", 5), "tone-1.source.unison.voices"),
    ).toBe(5);
    expect(valueAt(withValueAt(base, "l.rate_hz", 9), "l.rate_hz")).toBe(9);
    expect(withValueAt(base, "tone-1.pitch_st", 3)).toBe(base);
  });
});

describe("learning", () => {
  const targets = [
    { target: "f.cutoff_hz", parameter: cutoff },
    { target: "f.mix", parameter: mix },
    { target: "m.value", parameter: mix },
  ];

  it("turns what was changed into links, and the values back", () => {
    const after = withValueAt(
      withValueAt(withValueAt(base, "f.cutoff_hz", 500), "f.mix", 0.4),
      "m.value",
      0.3,
    );
    const { sound, count } = learned(base, after, "m", targets);
    expect(count).toBe(2);
    expect(valueAt(sound, "f.cutoff_hz")).toBe(2000);
    expect(valueAt(sound, "m.value")).toBe(1);
    expect(sound.links.map(({ target, amount }) => [target, amount])).toEqual([
      ["f.cutoff_hz", -2],
      ["f.mix", -0.6],
    ]);
  });

  it("learns nothing where nothing was moved", () => {
    expect(learned(base, base, "m", targets)).toEqual({ sound: base, count: 0 });
  });
});

describe("pictures of movement", () => {
  it("show a processor as it is at several moments", () => {
    const trace = Array.from({ length: 100 }, (_, n) => [n / 100, 100 + n]);
    const states = sweptStates(filter, { "f.cutoff_hz": trace, "g.cutoff_hz": [[0, 1]] });
    expect(states).toHaveLength(12);
    expect(states[0]).toMatchObject({ cutoff_hz: 100 });
    expect(states.at(-1)).toMatchObject({ cutoff_hz: 199 });
    expect(sweptStates(filter, {})).toEqual([]);
  });
});

describe("chords", () => {
  it("are named, transposed within the keys, and written in a few words", () => {
    const minor = withChord(start, [3, 7]);
    expect(chordName(minor)).toBe("minor");
    expect(chordName(start)).toBe("single note");
    expect(transposed([{ note: 120, at_s: 0.5 }], 12)).toEqual([{ note: 127, at_s: 0.5 }]);
    expect(notesWords(minor)).toBe("poly · 3 notes");
    const line = {
      ...minor,
      hit: { ...minor.hit, further: [{ note: 51, at_s: 0.1 }] },
      pattern: { ...minor.pattern, order: "up_down" as const },
    };
    expect(chordName(line)).toBe(null);
    expect(notesWords(line)).toBe("poly · 2 notes · pattern up-down");
  });
});

describe("older documents", () => {
  it("are completed by what has come since", () => {
    const newer = ["buses", "playing", "pattern"];
    const older = Object.entries(base).filter(([key]) => !newer.includes(key));
    const whole = completed(Object.fromEntries(older) as unknown as Sound);
    expect(whole.buses).toEqual([]);
    expect(whole.layers).toEqual(base.layers);
    expect(whole.main).toEqual(base.main);
  });
});
