import { describe, expect, it } from "vitest";
import type { Sound } from "../api/types";
import {
  allProcessors,
  chainOf,
  findProcessor,
  placeOf,
  withChain,
  withoutProcessor,
  withProcessor,
  withProcessorAt,
} from "./chains";
import { emptySound, freshId, newLayer, newProcessor } from "./edits";
import { pruned } from "./moverEdits";
import { destinationsOf, newBus, withBus, withoutBus, withRoute } from "./routes";

const start = emptySound("Test");
const two: Sound = { ...start, layers: [...start.layers, newLayer(start, "noise")] };
const bused: Sound = {
  ...two,
  buses: [newBus("bus-1", "Body"), { ...newBus("bus-2", "Room"), split: true }],
};
const [filter, drive, comb] = (["filter", "drive", "comb"] as const).map((kind) =>
  newProcessor(bused, kind),
);
if (!filter || !drive || !comb) throw new Error("three processors are wanted");
const filled = withChain(withChain(bused, [filter, drive], "main"), [comb], "bus-2/low");
const order = (sound: Sound, ref: string) => chainOf(sound, ref).map(({ id }) => id);

describe("chains", () => {
  it("finds processors wherever they stand", () => {
    expect(allProcessors(filled).map(({ id }) => id)).toEqual(["comb-1", "filter-1", "drive-1"]);
    expect(placeOf(filled, "comb-1")).toMatchObject({ ref: "bus-2/low", name: "Room low" });
    expect(findProcessor(filled, "drive-1")?.kind).toBe("drive");
    expect(freshId(filled, "comb")).toBe("comb-2");
  });

  it("moves a processor within its chain, counting places before it is taken out", () => {
    expect(order(withProcessorAt(filled, "drive-1", "main", 0), "main")).toEqual([
      "drive-1",
      "filter-1",
    ]);
    expect(order(withProcessorAt(filled, "filter-1", "main", 2), "main")).toEqual([
      "drive-1",
      "filter-1",
    ]);
    expect(withProcessorAt(filled, "filter-1", "main", 0)).toBe(filled);
    expect(withProcessorAt(filled, "filter-1", "main", 1)).toBe(filled);
    expect(withProcessorAt(filled, "gone", "main", 0)).toBe(filled);
  });

  it("moves a processor to another chain", () => {
    const moved = withProcessorAt(filled, "comb-1", "tone-1", 0);
    expect(order(moved, "tone-1")).toEqual(["comb-1"]);
    expect(order(moved, "bus-2/low")).toEqual([]);
  });

  it("changes and removes a processor in any chain", () => {
    const off = withProcessor(filled, "comb-1", (part) => ({ ...part, on: false }));
    expect(findProcessor(off, "comb-1")?.on).toBe(false);
    expect(allProcessors(withoutProcessor(filled, "comb-1"))).toHaveLength(2);
  });
});

describe("routes", () => {
  it("sends layers and buses anywhere but round", () => {
    const sent = withRoute(withRoute(bused, "tone-1", "bus-1"), "bus-1", "bus-2");
    expect(sent.layers[0]?.to).toBe("bus-1");
    expect(sent.buses[0]?.to).toBe("bus-2");
    expect(destinationsOf(sent, "bus-2").map(({ id }) => id)).toEqual(["main", "output", "none"]);
    expect(withRoute(sent, "bus-2", "bus-1")).toBe(sent);
    expect(withRoute(sent, "bus-2", "bus-2")).toBe(sent);
    expect(withRoute(sent, "tone-1", "gone")).toBe(sent);
  });

  it("lets what went to a removed bus go on where the bus went", () => {
    const sent = withRoute(withRoute(bused, "tone-1", "bus-1"), "bus-1", "output");
    expect(withoutBus(sent, "bus-1").layers[0]?.to).toBe("output");
  });

  it("prunes routes and links to buses that are gone", () => {
    const macro = { id: "macro-1", name: "M", kind: "macro", value: 0 } as const;
    const link = {
      mover: "macro-1",
      target: "bus-1.level_db",
      amount: -6,
      bend: 0,
      scaled_by: null,
      law: "plain" as const,
    };
    const sent = { ...withRoute(bused, "tone-1", "bus-1"), movers: [macro], links: [link] };
    expect(pruned(sent)).toBe(sent);
    const gone = pruned({ ...sent, buses: [] });
    expect(gone.layers[0]?.to).toBe("main");
    expect(gone.links).toEqual([]);
  });

  it("changes one bus", () => {
    expect(withBus(bused, "bus-2", (bus) => ({ ...bus, mute: true })).buses[1]?.mute).toBe(true);
  });
});
