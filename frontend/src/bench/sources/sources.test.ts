import { describe, expect, it } from "vitest";
import type { SampleSource, StruckSource, ToneSource } from "../../api/types";
import { cycleFrames } from "../../imports/intoSound";
import { emptySound, newLayer, newSource } from "../../sound/edits";
import { withoutStretch, withStretch } from "../reference/leftOut";
import { changeOf, withMode } from "../../sound/modeEdits";
import { sliced } from "./slicing";
import { narrowed, offeredSources, samplePatch, swapped } from "../../sound/offered";

const struck = newSource("struck") as StruckSource;

describe("changes of modes", () => {
  it("hold what differs and nothing else", () => {
    const changes = withMode(struck, 3, { level_db: 4 });
    expect(changes).toEqual([{ mode: 3, shift_cent: 0, level_db: 4, ring: 1, mute: false }]);
    const source = { ...struck, changes };
    expect(changeOf(source, 3).level_db).toBe(4);
    expect(withMode(source, 3, { level_db: 0 })).toEqual([]);
    expect(withMode(source, 1, { mute: true }).map(({ mode }) => mode)).toEqual([1, 3]);
  });

  it("stay within what a document may hold", () => {
    const [one] = withMode(struck, 1, { level_db: 99, shift_cent: -9999, ring: 0 });
    expect(one).toMatchObject({ level_db: 24, shift_cent: -3600, ring: 0.05 });
  });
});

describe("swapping sources", () => {
  it("keeps pitch and voices where the other has them too", () => {
    const tone: ToneSource = {
      ...(newSource("tone") as ToneSource),
      octave: -1,
      follows_note: false,
      unison: { voices: 5, detune_cent: 9, width: 1, phase_spread: 1, balance: 0.5 },
    };
    const table = swapped(tone, "wavetable", { table: { origin: "stock", name: "swarm" } });
    expect(table).toMatchObject({ kind: "wavetable", octave: -1, follows_note: false });
    expect("unison" in table && table.unison.voices).toBe(5);
    const body = swapped(tone, "struck", { body: "plate" });
    expect(body).toMatchObject({ kind: "struck", octave: -1, body: "plate" });
    expect("unison" in body).toBe(false);
    expect(swapped(tone, "noise", {})).not.toHaveProperty("octave");
  });

  it("takes over what a file says, or else what was measured", () => {
    const said = samplePatch("d", "Pipe", facts({ root_note: 64, root_cent: 10 }), 440);
    expect(said).toMatchObject({ root_note: 64, root_cent: 10, loop: "off" });
    const measured = samplePatch("d", "Pipe", facts({}), 440 * 2 ** (0.3 / 12)) as SampleSource;
    expect(measured.root_note).toBe(69);
    expect(measured.root_cent).toBeCloseTo(30, 0);
    const looped = samplePatch("d", "P", facts({ loop_start_s: 0.1, loop_end_s: 0.4 }), null);
    expect(looped).toMatchObject({ loop: "held", loop_start_s: 0.1, loop_end_s: 0.4 });
  });

  it("offers everything by group, and what was typed", () => {
    const offered = offeredSources({ tables: ["two-throats"], recordings: [], samples: [] });
    expect(new Set(offered.map(({ group }) => group)).size).toBe(4);
    expect(narrowed(offered, "two thro").map(({ name }) => name)).toEqual(["two throats"]);
    expect(narrowed(offered, "bodies plate")[0]?.name).toBe("plate");
    const own = newLayer(emptySound("x"), "tone").source;
    for (const one of offered) expect(one.put(own).kind).toBeTruthy();
  });
});

function facts(more: object) {
  return {
    root_note: null,
    root_cent: 0,
    loop_start_s: null,
    loop_end_s: null,
    title: "",
    comment: "",
    author: "",
    key: "",
    date: "",
    reference: "",
    ...more,
  };
}

describe("slicing", () => {
  it("cuts periods of the sample's own pitch from what is played of it", () => {
    const source = { ...(newSource("sample") as SampleSource), recording: "a".repeat(64) };
    const made = sliced({ ...source, root_note: 57, start_s: 0.1, end_s: 0.9, octave: 1 });
    expect(made).toMatchObject({
      kind: "wavetable",
      octave: 1,
      table: { origin: "sliced", hz: 220, start_s: 0.1, end_s: 0.9 },
    });
    expect(sliced({ ...source, recording: null }).kind).toBe("sample");
  });
});

describe("stretches of a reference", () => {
  it("join where they touch and go where they are clicked", () => {
    const one = withStretch([], { start_s: 1, end_s: 2 });
    const two = withStretch(one, { start_s: 3, end_s: 4 });
    expect(two).toHaveLength(2);
    expect(withStretch(two, { start_s: 1.5, end_s: 3.5 })).toEqual([{ start_s: 1, end_s: 4 }]);
    expect(withoutStretch(two, 1.5)).toEqual([{ start_s: 3, end_s: 4 }]);
    expect(withoutStretch(two, 2.5)).toBe(two);
  });
});

describe("from a file", () => {
  it("are as long as fits it evenly", () => {
    expect(cycleFrames(2048 * 40)).toBe(2048);
    expect(cycleFrames(256 * 3)).toBe(256);
    expect(cycleFrames(600 * 7)).toBe(600);
    expect(cycleFrames(1_000_001)).toBe(4096);
  });
});
