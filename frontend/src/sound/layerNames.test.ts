import { describe, expect, it } from "vitest";
import type { Sound, Source } from "../api/types";
import { emptySound, newLayer, newSource, withLayer } from "./edits";
import { namedBySources, sourceName } from "./layerNames";

const changed = (sound: Sound, patch: Partial<Source>) => {
  const id = sound.layers[0]?.id ?? "";
  const change = (layer: Sound["layers"][number]) => ({
    ...layer,
    source: { ...layer.source, ...patch } as Source,
  });
  return namedBySources(sound, withLayer(sound, id, change));
};
const names = (sound: Sound) => sound.layers.map(({ name }) => name);

describe("a layer", () => {
  it("is named by what it is, with a number where that is taken", () => {
    const start = emptySound("Test");
    const added = (sound: Sound, kind: Source["kind"]) => ({
      ...sound,
      layers: [...sound.layers, newLayer(sound, kind)],
    });
    const all = added(added(added(start, "tone"), "noise"), "struck");
    expect(names(all)).toEqual(["Sine", "Sine 2", "White noise", sourceName(newSource("struck"))]);
  });

  it("changes its name with its source, until it has one of its own", () => {
    const start = emptySound("Test");
    expect(names(changed(start, { shape: 2 }))).toEqual(["Sawtooth"]);
    expect(names(changed(start, { skew: 0.2 } as Partial<Source>))).toEqual(["Sine"]);
    const own = withLayer(start, start.layers[0]?.id ?? "", (one) => ({ ...one, name: "Hull" }));
    expect(names(changed(own, { shape: 2 }))).toEqual(["Hull"]);
  });
});
