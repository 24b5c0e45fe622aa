import { describe, expect, it } from "vitest";
import type { Processor, Sound } from "../api";
import {
  allProcessors,
  chainOf,
  chainPlaces,
  forkDepth,
  placeOf,
  withBranch,
  withChain,
  withoutProcessor,
  withProcessor,
  withProcessorAt,
} from "./chains";
import { freshCopies } from "./chainEdits";
import { emptySound, freshId, newProcessor } from "./edits";
import { withDuplicate } from "./duplicate";
import { pruned } from "./moverEdits";
import { destinationsOf, newBus, sendDestinations, sendsOf, withoutBus } from "./routes";

const start = emptySound("Forks");
const layer = start.layers[0]?.id ?? "";
const fork = newProcessor(start, "fork");
const [dry = "", wet = ""] = fork.kind === "fork" ? fork.branches.map(({ id }) => id) : [];
const delay: Processor = { ...newProcessor(start, "delay"), id: "echo" };
const forked = withChain(withChain(start, [fork], layer), [delay], wet);

describe("forks", () => {
  it("begin with a dry and a wet branch", () => {
    expect(chainPlaces(forked).map(({ ref }) => ref)).toEqual([layer, dry, wet, "main"]);
    expect(chainOf(forked, wet)).toEqual([delay]);
    expect(chainOf(forked, dry)).toEqual([]);
  });

  it("have processors that are found, changed and removed as any other", () => {
    expect(allProcessors(forked).map(({ id }) => id)).toEqual([fork.id, "echo"]);
    expect(placeOf(forked, "echo")?.owner).toBe(layer);
    const off = withProcessor(forked, "echo", (part) => ({ ...part, on: false }));
    expect(chainOf(off, wet)[0]?.on).toBe(false);
    expect(chainOf(withoutProcessor(forked, "echo"), wet)).toEqual([]);
    const softer = withBranch(forked, wet, (one) => ({ ...one, level_db: -6 }));
    expect(JSON.stringify(softer)).toContain('"level_db":-6');
  });

  it("take processors in and give them back, but not themselves", () => {
    const out = withProcessorAt(forked, "echo", "main", 0);
    expect(chainOf(out, "main").map(({ id }) => id)).toEqual(["echo"]);
    expect(chainOf(withProcessorAt(out, "echo", dry, 0), dry).map(({ id }) => id)).toEqual([
      "echo",
    ]);
    expect(withProcessorAt(forked, fork.id, wet, 0)).toBe(forked);
    expect([forkDepth(forked, layer), forkDepth(forked, wet)]).toEqual([0, 1]);
  });

  it("are copied under ids of their own", () => {
    const [copy] = freshCopies(forked, chainOf(forked, layer));
    const all = copy ? allProcessors(withChain(start, [copy], "main")) : [];
    expect(all).toHaveLength(2);
    expect(all.every(({ id }) => id !== fork.id && id !== "echo")).toBe(true);
    const twice = withDuplicate(forked, layer).sound;
    const ids = chainPlaces(twice).map(({ ref }) => ref);
    expect(new Set(ids).size).toBe(ids.length);
  });

  it("keep their branches' ids from being used twice", () => {
    expect(freshId(forked, "fork")).not.toBe(fork.id);
    expect(freshId(forked, fork.id)).toBe(`${fork.id}-3`);
  });
});

describe("sends", () => {
  const bus = newBus("bus-1", "Bus");
  const other = newBus("bus-2", "Other");
  const send = { id: "send-1", source: "echo", to: "bus-1", on: true, level_db: -6 };
  const sent: Sound = { ...forked, buses: [bus, other], sends: [send] };

  it("start anywhere and go anywhere but round", () => {
    expect(sendsOf(sent, "echo")).toEqual([send]);
    expect(sendDestinations(sent, "echo").map(({ id }) => id)).toEqual([
      "bus-1",
      "bus-2",
      "main",
      "output",
    ]);
    const inBus = withChain(sent, [newProcessor(sent, "room")], "bus-1");
    const room = chainOf(inBus, "bus-1")[0]?.id ?? "";
    expect(sendDestinations(inBus, room).map(({ id }) => id)).toEqual(["bus-2", "main", "output"]);
    const back = { ...sent, sends: [{ ...send, source: "bus-2", to: "bus-1" }] };
    expect(destinationsOf(back, "bus-1").map(({ id }) => id)).toEqual(["main", "output", "none"]);
  });

  it("from main go to buses that do not lead back to it", () => {
    const past: Sound = { ...sent, buses: [bus, { ...other, to: "output" }] };
    const main = withChain(past, [newProcessor(past, "gain")], "main");
    const gain = chainOf(main, "main")[0]?.id ?? "";
    expect(sendDestinations(main, gain).map(({ id }) => id)).toEqual(["bus-2", "output"]);
  });

  it("never lead from what hears all notes to what hears each apart", () => {
    const apart: Sound = { ...sent, buses: [bus, { ...other, each_note: true }] };
    expect(sendDestinations(apart, "bus-1").map(({ id }) => id)).toEqual(["main", "output"]);
    expect(sendDestinations(apart, "echo").map(({ id }) => id)).toContain("bus-2");
  });

  it("go with what they start from or lead to, and their links with them", () => {
    const link = {
      mover: "m",
      target: "send-1.level_db",
      amount: -6,
      bend: 0,
      scaled_by: null,
      law: "plain" as const,
    };
    const macro = { id: "m", name: "M", kind: "macro" as const, value: 0 };
    const moved: Sound = { ...sent, movers: [macro], links: [link] };
    expect(pruned(moved)).toBe(moved);
    for (const gone of [withoutBus(moved, "bus-1"), withoutProcessor(moved, "echo")]) {
      expect(pruned(gone).sends).toEqual([]);
      expect(pruned(gone).links).toEqual([]);
    }
  });
});
