import { describe, expect, it } from "vitest";
import type { Sound } from "../api/types";
import { withChain } from "./chains";
import { withDuplicate } from "./duplicate";
import { emptySound, newProcessor } from "./edits";
import { newLink, newMover } from "./moverEdits";

/** A layer with a filter, an LFO on both, and a macro that also moves the main level. */
function moved(): Sound {
  const empty = emptySound("Test");
  const layer = empty.layers[0]?.id ?? "";
  const filtered = withChain(empty, [newProcessor(empty, "filter")], layer);
  const filter = filtered.layers[0]?.chain[0]?.id ?? "";
  const withLfo = { ...filtered, movers: [newMover(filtered, "lfo")] };
  const macro = newMover(withLfo, "macro");
  const lfo = withLfo.movers[0]?.id ?? "";
  return {
    ...withLfo,
    movers: [...withLfo.movers, macro],
    links: [
      newLink(lfo, `${layer}.pitch_st`, 2),
      { ...newLink(lfo, `${filter}.cutoff_hz`, 1), scaled_by: macro.id },
      newLink(`${layer}.level`, `${filter}.cutoff_hz`, 3),
      newLink(macro.id, "main.level_db", -6),
    ],
    sends: [{ id: "send-1", source: filter, to: "main", on: true, level_db: -6 }],
  };
}

describe("a duplicated layer", () => {
  it("is moved by the same movers by the same amounts, and sent to the same places", () => {
    const start = moved();
    const { sound, newId } = withDuplicate(start, start.layers[0]?.id ?? "");
    const filter = sound.layers[1]?.chain[0]?.id ?? "";
    expect(sound.movers).toEqual(start.movers);
    expect(sound.links.slice(start.links.length)).toEqual([
      { ...start.links[0], target: `${newId}.pitch_st` },
      { ...start.links[1], target: `${filter}.cutoff_hz` },
      { ...start.links[2], mover: `${newId}.level`, target: `${filter}.cutoff_hz` },
    ]);
    expect(sound.sends.map(({ source }) => source)).toEqual([start.sends[0]?.source, filter]);
    expect(new Set(sound.sends.map(({ id }) => id)).size).toBe(2);
  });

  it("gets copies of the movers that served it alone, where it shall have its own", () => {
    const start = moved();
    const { sound } = withDuplicate(start, start.layers[0]?.id ?? "", { apart: true });
    expect(sound.movers.map(({ name }) => name)).toEqual(["LFO", "Macro", "LFO copy"]);
    const [, , copy] = sound.movers;
    const made = sound.links.slice(start.links.length);
    expect(made.map(({ mover }) => mover).slice(0, 2)).toEqual([copy?.id, copy?.id]);
    expect(made[1]?.scaled_by, "the macro moves main too").toBe(start.movers[1]?.id);
  });
});
