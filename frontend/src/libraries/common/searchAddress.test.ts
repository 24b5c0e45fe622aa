import { describe, expect, it } from "vitest";
import { EMPTY_QUERY } from "../../api/catalogue";
import { searchAddress, searchIn } from "./searchAddress";

describe("a search in an address", () => {
  it("comes back as it was", () => {
    const asked = {
      words: "copper & tick, 50%",
      categories: ["drum", "ui"],
      statuses: ["approved"],
      tags: ["dry wood"],
      notes: ["A#1"],
      makers: [3],
      channels: [1, 2],
      group: "Arc",
      sound_id: 12,
      like: 7,
      ranges: {
        length_s: [0.1, 2] as [number, number],
        loudness_lufs: [null, -12] as [null, number],
      },
      sort: "newest" as const,
      descending: true,
    };
    expect(searchIn(searchAddress({ ...EMPTY_QUERY, ...asked }))).toEqual(asked);
  });

  it("is empty where nothing is asked for", () => {
    expect(searchAddress({ ...EMPTY_QUERY, libraries: [4], binned: true })).toBe("");
    expect(searchIn("")).toEqual({});
  });

  it("can be read by people", () => {
    const query = {
      ...EMPTY_QUERY,
      words: "kick",
      categories: ["drum"],
      ranges: { length_s: [null, 0.5] as [null, number] },
    };
    expect(searchAddress(query)).toBe("words=kick&category=drum&length_s=..0.5");
  });

  it.each([
    "length_s=2..1",
    "length_s=..",
    "length_s=a..b",
    "length_s=1",
    "length_s=1..2..3",
    "nonsense=1..2",
    "like=-1",
    "like=1e9",
    "maker=x",
    "sort=__proto__",
    "descending=1",
    "words=",
  ])("leaves out what cannot be read: %s", (address) => {
    expect(searchIn(address)).toEqual({});
  });

  it("cuts what is too long", () => {
    expect(searchIn(`words=${"a".repeat(5000)}`).words).toHaveLength(200);
  });
});
