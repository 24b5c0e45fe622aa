import { describe, expect, it } from "vitest";
import { EMPTY_QUERY } from "../../api/catalogue";
import { differInWords } from "./useSettledQuery";

describe("a search that is typed", () => {
  it("differs from the last one in its words alone", () => {
    expect(differInWords({ ...EMPTY_QUERY, words: "ki" }, { ...EMPTY_QUERY, words: "kic" })).toBe(
      true,
    );
  });

  it.each([
    ["nothing", {}],
    ["a facet", { categories: ["drum"] }],
    ["words and likeness, as with what is like a found sample", { words: "", like: 3 }],
    ["words and library, as with a kept search", { words: "kick", libraries: [2] }],
  ])("is not what differs in %s", (_, patch) => {
    const typed = { ...EMPTY_QUERY, words: "kic" };
    expect(differInWords({ ...typed, ...patch }, typed)).toBe(false);
  });
});
