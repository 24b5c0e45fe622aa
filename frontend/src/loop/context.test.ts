import { describe, expect, it } from "vitest";
import { TRYOUT_DEFAULTS, type TryOut, type TryOutPart } from "../api";
import { partInHand, withSoundInContext } from "./context";

const part = (id: string, sound: number, more: Partial<TryOutPart> = {}): TryOutPart => ({
  ...TRYOUT_DEFAULTS.part,
  id,
  name: id,
  plays: { kind: "sound", sound, revision: null },
  hits: [{ ...TRYOUT_DEFAULTS.hit, at_s: 0 }],
  ...more,
});
const tryOut = (...parts: TryOutPart[]): TryOut => ({
  ...TRYOUT_DEFAULTS.tryout,
  name: "Groove",
  parts,
});
const how = { soundId: 7, name: "Zap", othersDb: -6, inPlaceOf: null };

describe("a sound in context", () => {
  it("is its own part, heard whatever mute says, with the others at a balance", () => {
    const now = tryOut(part("kick", 1), part("zap", 7, { mute: true, level_db: -3 }));
    const heard = withSoundInContext(now, how);
    expect(heard.parts.map(({ level_db }) => level_db)).toEqual([-6, -3]);
    expect(heard.parts[1]?.mute).toBe(false);
  });

  it("stands in for the part that is chosen, or the first that is hit", () => {
    const bed = { ...TRYOUT_DEFAULTS.bed, kind: "bed" as const, sample: 1 };
    const now = tryOut(part("air", 1, { plays: bed }), part("kick", 1), part("snare", 2));
    expect(partInHand(now, 7, null)?.id).toBe("kick");
    expect(partInHand(now, 7, "snare")?.id).toBe("snare");
    const heard = withSoundInContext(now, { ...how, inPlaceOf: "snare" });
    expect(heard.parts[2]).toMatchObject({ name: "Zap", plays: { sound: 7, revision: null } });
    expect(heard.parts[2]?.hits).toEqual(now.parts[2]?.hits);
  });

  it("is heard on the first beat where there is nothing else", () => {
    const heard = withSoundInContext(tryOut(), how);
    expect(heard.parts).toMatchObject([{ name: "Zap", hits: [{ at_s: 0 }] }]);
  });

  it("is heard beside a solo, which it joins", () => {
    const now = tryOut(part("kick", 1, { solo: true }), part("zap", 7), part("snare", 2));
    const heard = withSoundInContext(now, how);
    expect(heard.parts.map(({ solo }) => solo)).toEqual([true, true, false]);
  });
});
