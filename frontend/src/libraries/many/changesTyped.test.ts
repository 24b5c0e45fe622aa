import { describe, expect, it } from "vitest";
import { changesTyped, listOf, NOTHING_TYPED } from "./changesTyped";

const typed = (patch: Partial<typeof NOTHING_TYPED>) =>
  changesTyped({ ...NOTHING_TYPED, ...patch });

describe("changes typed for many samples", () => {
  it("leaves alone what is empty", () => {
    expect(typed({})).toEqual({ changes: {}, problems: {} });
  });

  it("takes texts, numbers with units, and choices", () => {
    const { changes, problems } = typed({
      category: "drum",
      subcategory: "kick",
      description: " from the shed ",
      group: "kiln",
      folder: "tapes/wet",
      tempo: "96 bpm",
      note: "F#2",
      rating: "0",
      followsKey: "no",
    });
    expect(problems).toEqual({});
    expect(changes).toEqual({
      category: "drum",
      subcategory: "kick",
      description: "from the shed",
      variation_group: "kiln",
      folder: "tapes/wet",
      tempo_bpm: 96,
      root_note: 42,
      rating: 0,
      follows_key: false,
    });
  });

  it("clears a field by a dash", () => {
    expect(typed({ licence: "-", tempo: "-", note: "-" }).changes).toEqual({
      licence: "",
      tempo_bpm: null,
      root_note: null,
    });
  });

  it("says at which field something is wrong", () => {
    const { problems } = typed({ tempo: "fast", note: "H9" });
    expect(Object.keys(problems)).toEqual(["tempo", "note"]);
  });

  it("parts tags by commas", () => {
    expect(listOf(" low, , brass ")).toEqual(["low", "brass"]);
  });
});
