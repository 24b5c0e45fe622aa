import { describe, expect, it } from "vitest";
import { EMPTY_QUERY } from "../../api/catalogue";
import { keepPlace, keptPlace } from "./keptPlace";

describe("the place in a list", () => {
  it("is found again by the same search alone", () => {
    const query = { ...EMPTY_QUERY, words: "kick", libraries: [2] };
    keepPlace(query, { top: 930 });
    keepPlace(query, { row: 20 });
    expect(keptPlace({ ...query })).toEqual({ top: 930, row: 20 });
    expect(keptPlace({ ...query, libraries: [3] })).toEqual({ top: 0, row: 0 });
    expect(keptPlace({ ...query, words: "kicks" })).toEqual({ top: 0, row: 0 });
    expect(keptPlace({ ...query, binned: true })).toEqual({ top: 0, row: 0 });
  });

  it("is that of the last search", () => {
    keepPlace(EMPTY_QUERY, { top: 10 });
    keepPlace({ ...EMPTY_QUERY, words: "a" }, { top: 20 });
    expect(keptPlace(EMPTY_QUERY)).toEqual({ top: 0, row: 0 });
  });
});
