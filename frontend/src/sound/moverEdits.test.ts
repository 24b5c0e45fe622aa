import { describe, expect, it } from "vitest";
import declared from "../../../docs/declarations.json";
import type { Declarations, Link, Sound } from "../api/types";
import { emptySound, newLayer, newProcessor } from "./edits";
import { withChain } from "./chains";
import { differences } from "./differences";
import {
  firstAmount,
  MOVER_KINDS,
  newMover,
  pruned,
  valueAt,
  withLink,
  withoutLink,
  withoutMover,
} from "./moverEdits";
import { targetsOf } from "./targets";

const declarations = declared as unknown as Declarations;
const start = emptySound("Gear");
const lfo = newMover(start, "lfo");
const filter = newProcessor(start, "filter");
const link: Link = {
  mover: lfo.id,
  target: `${filter.id}.cutoff_hz`,
  amount: 2,
  bend: 0,
  scaled_by: null,
  law: "plain" as const,
};
const moved: Sound = withLink({ ...withChain(start, [filter], "main"), movers: [lfo] }, link);

describe("movers", () => {
  it.each(MOVER_KINDS)("a new %s declares every field that the server declares", (kind) => {
    const made = newMover(start, kind) as unknown as Record<string, unknown>;
    const { parameters, choices } = declarations.movers[kind];
    for (const { name } of [...parameters, ...choices]) expect(made).toHaveProperty(name);
  });

  it("offers every target of layers, processors, main and movers", () => {
    const names = targetsOf(moved, declarations).map(({ target }) => target);
    expect(names).toContain("tone-1.pitch_st");
    expect(names).toContain("tone-1.source.shape");
    expect(names).toContain("filter-1.cutoff_hz");
    expect(names).toContain("main.level_db");
    expect(names).toContain("lfo-1.rate_hz");
    expect(new Set(names).size).toBe(names.length);
  });

  it("a link is changed in place and ended", () => {
    const louder = withLink(moved, { ...link, amount: 3 });
    expect(louder.links).toEqual([{ ...link, amount: 3 }]);
    expect(withoutLink(louder, link).links).toEqual([]);
    expect(differences(moved, louder, declarations)).toEqual([
      "Main Filter: Cutoff moved by LFO +2 oct → +3 oct",
    ]);
  });

  it("links go with their mover, their target and their follower's layer", () => {
    expect(pruned(moved)).toBe(moved);
    expect(pruned(withoutMover(moved, lfo.id)).links).toEqual([]);
    expect(pruned(withChain(moved, [], "main")).links).toEqual([]);
    const other = newLayer(start, "noise");
    const follower = { ...newMover(start, "follower"), layer: other.id } as Sound["movers"][number];
    const scaled = { ...link, scaled_by: follower.id };
    const full: Sound = {
      ...moved,
      layers: [...moved.layers, other],
      movers: [lfo, follower],
      links: [scaled],
    };
    const without = pruned({ ...full, layers: start.layers });
    expect(without.movers).toEqual([lfo]);
    expect(without.links).toEqual([link]);
  });

  it("links to what another kind of source does not have go with it", () => {
    const layer = newLayer(start, "wavetable");
    const at = (path: string, mover = lfo.id) => ({
      ...link,
      mover,
      target: `${layer.id}.${path}`,
    });
    const voice = newMover(start, "voice");
    const full: Sound = {
      ...start,
      layers: [layer],
      movers: [lfo, voice],
      links: [
        at("source.position"),
        at("source.transpose_st"),
        at("source.unison.detune_cent"),
        at("pitch_st", voice.id),
        at("pitch_st"),
        at("level_db"),
      ],
    };
    expect(pruned(full)).toBe(full);
    const as = (kind: "struck" | "noise") =>
      pruned({ ...full, layers: [{ ...layer, source: newLayer(start, kind).source }] }).links.map(
        ({ target }) => target.split(".").slice(1).join("."),
      );
    // A struck body has a position too, of another meaning.
    const shared = ["source.position", "source.transpose_st", "pitch_st", "level_db"];
    expect(as("struck")).toEqual(shared);
    expect(as("noise")).toEqual(["level_db"]);
  });

  it("a first amount is heard and does no harm", () => {
    for (const { target, parameter } of targetsOf(moved, declarations)) {
      const amount = firstAmount(parameter, valueAt(moved, target));
      expect(Math.abs(amount)).toBeGreaterThan(0);
      expect(Math.abs(amount)).toBeLessThanOrEqual(45);
      // A mix that is full can only be lowered.
      if (parameter.name === "mix") expect(amount).toBe(-0.25);
    }
  });
});
