import { describe, expect, it } from "vitest";
import declared from "../../../../docs/declarations.json";
import type { Declarations, Sound } from "../../api/types";
import { emptySound, newLayer, newProcessor, withLayer } from "../../sound/edits";
import { withChain } from "../../sound/chains";
import { mixedSound } from "./mixing";

const declarations = declared as unknown as Declarations;

const start = emptySound("Gear");
const first = newLayer(start, "tone");
start.layers = [first];
const changed = (change: (sound: Sound) => Sound) => change(start);
const half = (a: Sound, b: Sound) => mixedSound(a, b, 0.5, declarations);

describe("mixing two states", () => {
  it("is exactly either at its ends", () => {
    const other = changed((sound) => ({ ...sound, tempo_bpm: 90 }));
    expect(mixedSound(start, other, 0, declarations)).toBe(start);
    expect(mixedSound(start, other, 1, declarations)).toBe(other);
  });

  it("moves each parameter on its own scale", () => {
    const source = (fixed_hz: number, octave: number) => (sound: Sound) =>
      withLayer(sound, first.id, (layer) => ({
        ...layer,
        source: { ...layer.source, fixed_hz, octave } as typeof layer.source,
      }));
    const mixed = half(changed(source(100, 0)), changed(source(1600, 3)));
    const tone = mixed.layers[0]?.source;
    // Frequencies are halved on a log scale, whole numbers stay whole.
    expect(tone?.kind === "tone" && tone.fixed_hz).toBeCloseTo(400, 6);
    expect(tone?.kind === "tone" && tone.octave).toBe(2);
  });

  it("mixes curves point by point where they are alike, and takes the nearer otherwise", () => {
    const long = changed((sound) =>
      withLayer(sound, first.id, (layer) => ({
        ...layer,
        level: {
          ...layer.level,
          release: [{ time_s: 0.26, value: 0, bend: 5 }],
        },
      })),
    );
    expect(half(start, long).layers[0]?.level.release).toEqual([
      { time_s: 0.16, value: 0, bend: 4 },
    ]);
    const oneShot = changed((sound) =>
      withLayer(sound, first.id, (layer) => ({ ...layer, level: { ...layer.level, release: [] } })),
    );
    expect(mixedSound(start, oneShot, 0.4, declarations).layers[0]?.level).toEqual(first.level);
  });

  it("fades a layer that only one of them has", () => {
    const two = changed((sound) => ({ ...sound, layers: [first, newLayer(sound, "noise")] }));
    const mixed = half(start, two);
    expect(mixed.layers).toHaveLength(2);
    expect(mixed.layers[1]?.level_db).toBeCloseTo(-12 - 6.02, 2);
  });

  it("does not invent slopes between slopes", () => {
    const filter = newProcessor(start, "filter");
    const steep = { ...filter, slope_db: 24 } as typeof filter;
    const mixed = mixedSound(
      withChain(start, [filter], "main"),
      withChain(start, [steep], "main"),
      0.4,
      declarations,
    );
    expect(mixed.main.chain[0]).toMatchObject({ slope_db: 12 });
  });
});
