import { beforeEach, describe, expect, it } from "vitest";
import type { Declarations } from "../../api/types";
import { emptySound, newProcessor } from "../../sound/edits";
import { PROCESSOR_GROUPS } from "../../sound/processorNames";
import { PROCESSOR_DEFAULTS } from "../../api/generated/kinds";
import { useBench } from "../../sound/store";
import { entriesFor, fit, found } from "./entries";
import type { Entry } from "./entry";

const sound = emptySound("Test");
const nothing = { help: "", parameters: [], choices: [] };
const parameter = (name: string, label: string) =>
  ({ name, label, unit: "dB", minimum: -72, maximum: 12, default: 0 }) as never;
const declarations = {
  layer: { ...nothing, parameters: [parameter("level_db", "Level")] },
  main: { ...nothing, parameters: [parameter("level_db", "Main level")] },
  sources: { tone: nothing, noise: nothing },
  unison: nothing,
  partials: nothing,
  modulator: nothing,
  send: nothing,
  branch: nothing,
  bus: nothing,
  pitch: parameter("pitch_st", "Pitch"),
  common_pitch: parameter("pitch_st", "Common pitch"),
  processors: {},
  movers: {},
} as unknown as Declarations;

const opened: number[] = [];
const asked = {
  sound,
  declarations,
  chains: [{ id: 4, name: "Yard wall", chain: [newProcessor(sound, "room")] }],
  sounds: [{ id: 9, name: "Lamp zap", library_name: "Glasshouse Clockworks" } as never],
  openSound: (id: number) => opened.push(id),
};
const labels = (entries: Entry[]) => entries.map(({ label }) => label);

describe("what typing finds", () => {
  // All tests share one store; where a processor goes hangs on what is selected.
  beforeEach(() => useBench.setState({ selection: { kind: "main" } }));

  it("has every processor in a group, once", () => {
    const grouped = PROCESSOR_GROUPS.flatMap(([, kinds]) => kinds);
    expect([...grouped].sort()).toEqual(Object.keys(PROCESSOR_DEFAULTS).sort());
  });

  it("is found by its name first, then by what it does", () => {
    const entries = entriesFor({ ...asked, finding: { mode: "processor" } });
    expect(labels(found(entries, "delay")).slice(0, 3)).toEqual([
      "Delay",
      "Pitch delay",
      "Comb filter",
    ]);
    expect(labels(found(entries, "limiter"))).toEqual(["Limiter"]);
    expect(labels(found(entries, "reverb tail"))).toEqual(["Reverb", "Shimmer"]);
    expect(found(entries, "no such thing")).toEqual([]);
  });

  it("lists processors as they are grouped where nothing is typed", () => {
    const entries = entriesFor({ ...asked, finding: { mode: "processor" } });
    expect(labels(found(entries, ""))[0]).toBe("Equaliser");
    expect(labels(found(entries, ""))).toContain("Load chain Yard wall");
  });

  it("is anything where anything is asked for", () => {
    const entries = entriesFor({ ...asked, finding: { mode: "all" } });
    expect(labels(found(entries, "main level"))[0]).toBe("Main: Main level");
    expect(labels(found(entries, "effects"))[0]).toBe("Bypass all effects");
    expect(labels(found(entries, "add drive"))).toEqual(["Add Drive"]);
    found(entries, "lamp zap")[0]?.act();
    expect(opened).toEqual([9]);
  });

  it("puts another kind in a place, and offers nothing else there", () => {
    const entries = entriesFor({ ...asked, finding: { mode: "replace", id: "x" } });
    expect(entries).toHaveLength(PROCESSOR_GROUPS.flatMap(([, kinds]) => kinds).length);
  });

  it("lets the sound be heard with it, and changes nothing by that", () => {
    const entries = entriesFor({ ...asked, finding: { mode: "processor" } });
    const room = found(entries, "reverb")[0];
    expect(room?.tried?.(sound).main.chain.map(({ kind }) => kind)).toEqual(["room"]);
    expect(sound.main.chain).toEqual([]);
    const chain = found(entries, "yard")[0];
    expect(chain?.tried?.(sound).main.chain).toHaveLength(1);
  });

  it("wants every word", () => {
    const entry: Entry = {
      key: "a",
      label: "Pitch delay",
      group: "Copies",
      words: "echo",
      act: () => {},
    };
    expect(fit(entry, "echo pitch")).toBeGreaterThan(0);
    expect(fit(entry, "echo room")).toBe(0);
  });
});
