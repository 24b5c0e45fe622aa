import { describe, expect, it } from "vitest";
import { TRYOUT_DEFAULTS, type JudgedOverlap, type TryOut, type TryOutPart } from "../api";
import { waysOut, type Way } from "./offers";

const part = (id: string): TryOutPart => ({
  ...TRYOUT_DEFAULTS.part,
  id,
  name: id,
  plays: { kind: "sound", sound: 1, revision: null },
  hits: [{ ...TRYOUT_DEFAULTS.hit, at_s: 0 }],
});
const document: TryOut = {
  ...TRYOUT_DEFAULTS.tryout,
  name: "Groove",
  parts: [part("kick"), part("bass")],
};
const judged = (more: Partial<JudgedOverlap> = {}): JudgedOverlap => ({
  meeting: { from_s: 0, first_s: 0, second_s: 0, until_s: 1 },
  bands_hz: [],
  first_db: [],
  second_db: [],
  covered: [],
  amount_db: -3,
  hidden_db: -4,
  stretches: [],
  together: { sum_db: 2, inverted_db: 0, shift_s: 0.004, shifted_db: 2.5 },
  offers: [],
  tuning: null,
  ...more,
});

function ways(more: Partial<JudgedOverlap>, now = document) {
  const [first, second] = now.parts;
  if (!first || !second) throw new Error("two parts are wanted");
  return waysOut({ document: now, judged: judged(more), first, second, ownNote: 33 });
}
const taken = (way: Way | undefined) => way?.change(document) ?? document;
const offer = (kind: string, value: number) => ({ kind, value, before_db: -3, after_db: -8 });
const bassOf = (now: TryOut) => now.parts[1];

describe("ways out", () => {
  it("change the part that gives way, and only it", () => {
    const offers = [offer("attack", 0.012), offer("low_cut", 80), offer("duck", 6)];
    const [attack, cut, duck] = ways({ offers });
    expect(bassOf(taken(attack))?.attack_s).toBe(0.012);
    expect(attack?.figure).toBe("−5 dB hidden");
    expect(bassOf(taken(cut))?.low_cut_hz).toBe(80);
    expect(taken(duck).ducks).toMatchObject([{ part: "bass", by: "kick", amount_db: 6 }]);
    expect(taken(attack).parts[0]).toEqual(document.parts[0]);
  });

  it("pull a part down further that is pulled down already", () => {
    const ducks = [
      { ...TRYOUT_DEFAULTS.duck, part: "bass", by: "kick", amount_db: 9, hold_s: 0.3 },
    ];
    const [duck] = ways({ offers: [offer("duck", 6)] }, { ...document, ducks });
    expect(taken(duck).ducks).toMatchObject([{ amount_db: 15, hold_s: 0.3 }]);
  });

  it("offer no duck that would close a circle", () => {
    const ducks = [{ ...TRYOUT_DEFAULTS.duck, part: "kick", by: "bass" }];
    expect(ways({ offers: [offer("duck", 6)] }, { ...document, ducks })).toEqual([]);
  });

  it("shift or turn over what its sum gains by", () => {
    const gains = { sum_db: -4, inverted_db: 3, shift_s: -0.003, shifted_db: 2 };
    const [shift, invert] = ways({ together: gains });
    expect(shift?.words).toBe("bass 3 ms earlier");
    expect(bassOf(taken(shift))?.offset_s).toBeCloseTo(-0.003);
    expect(bassOf(taken(invert))?.invert).toBe(true);
    expect(ways({ together: { ...gains, inverted_db: -3.5, shifted_db: -3.8 } })).toEqual([]);
  });

  it("tune the notes of hits, the sound's own where they name none", () => {
    const tuning = { first_hz: 49, second_hz: 55, semitones: -2, to_hz: 49 };
    const [tune] = ways({ tuning });
    expect(bassOf(taken(tune))?.hits[0]?.notes).toEqual([31]);
  });
});
