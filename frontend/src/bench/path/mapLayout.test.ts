import { describe, expect, it } from "vitest";
import type { Sound } from "../../api";
import { newBus, newLayer } from "../../sound";
import { busColumns, mapLayout, NODE_HEIGHT, spread } from "./mapLayout";

const bare = {
  layers: [],
  buses: [],
  sends: [],
  movers: [],
  links: [],
  main: { level_db: 0, limit_all: false, chain: [] },
} as unknown as Sound;

const layer = (n: number, to = "main") => ({
  ...newLayer(bare, "tone"),
  id: `l${n}`,
  name: `Layer ${n}`,
  to,
});
const bus = (id: string, to = "main") => ({ ...newBus(id, id), to });

const large: Sound = {
  ...bare,
  layers: [1, 2, 3, 4, 5, 6, 7, 8].map((n) => layer(n, ["a", "b", "main", "output"][n % 4])),
  buses: [bus("a", "c"), bus("b", "c"), bus("c"), bus("d", "output")],
  sends: [{ id: "s", source: "l1", to: "d", level_db: -6, on: true }],
} as Sound;

describe("mapLayout", () => {
  it("puts a bus behind those that lead to it", () => {
    const columns = busColumns(large);
    expect([columns.get("a"), columns.get("b"), columns.get("c")]).toEqual([0, 0, 1]);
  });

  it("lets no two parts cover each other", () => {
    const { nodes } = mapLayout(large);
    for (const one of nodes)
      for (const other of nodes) {
        if (one.id >= other.id || one.x !== other.x) continue;
        expect(Math.abs(one.y - other.y)).toBeGreaterThanOrEqual(NODE_HEIGHT);
      }
    expect(nodes).toHaveLength(13);
  });

  it("draws each way and each send that is on, to the output too", () => {
    const { edges } = mapLayout(large);
    expect(edges.filter(({ kind }) => kind === "route")).toHaveLength(13);
    expect(edges.filter(({ kind }) => kind === "send")).toEqual([
      expect.objectContaining({ from: "l1", to: "d" }),
    ]);
    const off = { ...large, sends: large.sends.map((one) => ({ ...one, on: false })) };
    expect(mapLayout(off).edges.some(({ kind }) => kind === "send")).toBe(false);
  });

  it("draws nothing from a layer that goes nowhere by itself", () => {
    const alone = { ...bare, layers: [layer(1, "none")] } as Sound;
    expect(mapLayout(alone).edges.map(({ from }) => from)).toEqual(["main"]);
  });
});

describe("spread", () => {
  it("keeps the order and gives each its room, within the map", () => {
    const placed = spread([100, 100, 100], 112);
    expect(placed).toEqual([56, 84, 112]);
  });

  it("leaves what has room where it is", () => {
    expect(spread([0, 60], 112)).toEqual([0, 60]);
  });
});
