import { beforeEach, describe, expect, it } from "vitest";
import type { Processor, Sound } from "../api/types";
import { allProcessors, withChain } from "./chains";
import { emptySound, newLayer, newProcessor } from "./edits";
import { pruned } from "./moverEdits";
import { useBench } from "./store";
import {
  addInHand,
  besideProcessor,
  copyProcessor,
  freshCopies,
  pasteProcessor,
  placeInHand,
  toggleEffects,
  withLoaded,
  withoutEffects,
  withReplaced,
} from "./chainEdits";
import { type Equaliser, freeBand } from "../bench/path/picture/equaliserResponse";

const start = emptySound("Test");
const layer = start.layers[0]?.id ?? "";

function chained(...kinds: Processor["kind"][]): Sound {
  return kinds.reduce(
    (sound, kind) => withChain(sound, [...sound.main.chain, newProcessor(sound, kind)], "main"),
    start,
  );
}

const kindsOf = (sound: Sound | null) => sound?.main.chain.map(({ kind }) => kind);
const ids = (sound: Sound) => allProcessors(sound).map(({ id }) => id);

beforeEach(() =>
  useBench.setState({ document: start, selection: { kind: "main" }, past: [], effectsOff: false }),
);

describe("where a processor goes that is asked for from anywhere", () => {
  it("is after the selected one, at the end of the chain of the selection, else on main", () => {
    const sound = chained("drive", "room");
    const first = sound.main.chain[0]?.id ?? "";
    expect(placeInHand(sound, { kind: "processor", id: first })).toEqual({ ref: "main", index: 1 });
    expect(placeInHand(sound, { kind: "layer", id: layer })).toEqual({ ref: layer, index: 0 });
    expect(placeInHand(sound, { kind: "notes" })).toEqual({ ref: "main", index: 2 });
  });

  it("adds it there as one step that can be undone, and selects it", () => {
    useBench.setState({ selection: { kind: "layer", id: layer } });
    addInHand("reducer");
    const { document, selection, past } = useBench.getState();
    const added = document?.layers[0]?.chain[0];
    expect(added?.kind).toBe("reducer");
    expect(selection).toEqual({ kind: "processor", id: added?.id });
    expect(past.map(({ label }) => label)).toEqual(["Bit and rate reduction added"]);
  });
});

describe("replacing", () => {
  it("keeps place, id and what all kinds have, and links to that alone", () => {
    const sound = chained("drive", "room");
    const [drive, ...others] = sound.main.chain;
    const id = drive?.id ?? "";
    const set = { ...newProcessor(sound, "drive"), id, level_db: -9, on: false } as Processor;
    const link = (target: string) => ({
      mover: "m",
      target,
      amount: 1,
      bend: 0,
      scaled_by: null,
      law: "plain" as const,
    });
    const moved: Sound = {
      ...withChain(sound, [set, ...others], "main"),
      movers: [{ id: "m", name: "M", kind: "macro", value: 0.5 }],
      links: [link(`${id}.drive_db`), link(`${id}.level_db`)],
    };
    const after = withReplaced(moved, id, "delay");
    expect(kindsOf(after)).toEqual(["delay", "room"]);
    expect(after.main.chain[0]).toMatchObject({ id, level_db: -9, on: false, mix: 0.3 });
    expect(after.links.map(({ target }) => target)).toEqual([`${id}.level_db`]);
  });

  it("leaves a sound alone in which there is no such processor", () => {
    expect(withReplaced(start, "gone", "delay")).toBe(start);
  });
});

describe("copies", () => {
  it("have ids of their own however often they are made", () => {
    const sound = chained("drive", "drive");
    const twice = withLoaded(withLoaded(sound, "main", sound.main.chain), layer, sound.main.chain);
    expect(ids(twice)).toHaveLength(6);
    expect(new Set(ids(twice)).size).toBe(6);
  });

  it("listen to no layer that is not there", () => {
    const compressor = { ...newProcessor(start, "compressor"), side: "elsewhere" } as Processor;
    const [copy] = freshCopies(start, [compressor]);
    expect(copy).toMatchObject({ kind: "compressor", side: null });
  });

  it("are pasted after the selection", () => {
    const sound = chained("drive", "room");
    const [, room] = sound.main.chain;
    useBench.setState({ document: sound, selection: { kind: "processor", id: room?.id ?? "" } });
    copyProcessor(newProcessor(sound, "drive"));
    pasteProcessor();
    expect(kindsOf(useBench.getState().document)).toEqual(["drive", "room", "drive"]);
  });
});

describe("all effects off", () => {
  it("switches off what is heard and leaves the document as it is", () => {
    const sound = chained("drive", "room");
    expect(allProcessors(withoutEffects(sound)).every(({ on }) => !on)).toBe(true);
    expect(sound.main.chain.every(({ on }) => on)).toBe(true);
    toggleEffects();
    expect(useBench.getState()).toMatchObject({ effectsOff: true, document: start });
  });
});

describe("what loses its layer", () => {
  it("listens to its own input", () => {
    const two: Sound = { ...start, layers: [...start.layers, newLayer(start, "noise")] };
    const other = two.layers[1]?.id ?? "";
    const gate = { ...newProcessor(two, "gate"), side: other } as Processor;
    const listening = withChain(two, [gate], "main");
    expect(pruned(listening)).toBe(listening);
    const lost = pruned({ ...listening, layers: start.layers });
    expect(lost.main.chain[0]).toMatchObject({ side: null });
  });
});

describe("a free band", () => {
  const flat = newProcessor(start, "equaliser") as Equaliser;
  it("is a bell of 0 dB, then one that is off, then none", () => {
    expect(freeBand(flat)).toBe("band_3");
    const bells = ["band_3", "band_4", "band_5", "band_6"] as const;
    const used = bells.reduce<Equaliser>(
      (part, name) => ({ ...part, [name]: { ...part[name], gain_db: 3 } }),
      flat,
    );
    expect(freeBand(used)).toBe("band_1");
    const on = {
      ...used,
      band_1: { ...used.band_1, on: true },
      band_8: { ...used.band_8, on: true },
    };
    expect(freeBand(on)).toBeUndefined();
  });
});

describe("what is selected after a processor was removed", () => {
  it("is the next one, else the one before, else the part that the chain belongs to", () => {
    const sound = chained("drive", "room", "filter");
    const [first = "", second = "", third = ""] = ids(sound);
    expect(besideProcessor(sound, first)).toEqual({ kind: "processor", id: second });
    expect(besideProcessor(sound, third)).toEqual({ kind: "processor", id: second });
    expect(besideProcessor(chained("drive"), ids(chained("drive"))[0] ?? "")).toEqual({
      kind: "main",
    });
    const own = withChain(start, [newProcessor(start, "drive")], layer);
    expect(besideProcessor(own, ids(own)[0] ?? "")).toEqual({ kind: "layer", id: layer });
  });
});
