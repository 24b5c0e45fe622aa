import { beforeEach, describe, expect, it } from "vitest";
import { EMPTY_QUERY } from "../../api/catalogue";
import {
  ask,
  askAnew,
  askLike,
  askOtherwise,
  isNarrowed,
  mark,
  toggled,
  toggleMark,
  useSelection,
} from "./queryStore";

describe("a search", () => {
  beforeEach(() => askAnew({}));

  it("lets go of marks when it asks for something else, and of likeness when words do", () => {
    askLike(7);
    mark([1, 2]);
    askOtherwise({ words: "kick" });
    const { query, marked } = useSelection.getState();
    expect(query.words).toBe("kick");
    expect(query.like).toBeNull();
    expect(marked).toEqual([]);
  });

  it("for what is like a sample leaves out the words that found it, and is narrowed by facets", () => {
    ask({ words: "arc 01", group: "Arc", categories: ["drum"] });
    askLike(7);
    ask({ statuses: ["approved"] });
    const { query } = useSelection.getState();
    expect(query).toMatchObject({ like: 7, words: "", group: "" });
    expect(query).toMatchObject({ categories: ["drum"], statuses: ["approved"] });
    askOtherwise({ sort: "name" });
    expect(useSelection.getState().query).toMatchObject({ like: null, sort: "name" });
  });

  it("keeps facets while words change, and clears them when asked", () => {
    ask({ categories: ["drum"] });
    ask({ words: "kick" });
    expect(useSelection.getState().query.categories).toEqual(["drum"]);
    askAnew({ libraries: [3] });
    expect(useSelection.getState().query).toEqual({ ...EMPTY_QUERY, libraries: [3] });
  });

  it.each([
    [{}, false],
    [{ libraries: [1] }, false],
    [{ sort: "name" as const }, false],
    [{ words: "a" }, true],
    [{ tags: ["low"] }, true],
    [{ ranges: { length_s: [null, 1] as [null, number] } }, true],
    [{ like: 3 }, true],
  ])("with %o asks for something: %s", (patch, narrowed) => {
    expect(isNarrowed({ ...EMPTY_QUERY, ...patch })).toBe(narrowed);
  });

  it("marks in the order of marking and unmarks", () => {
    [3, 1, 2, 1].forEach(toggleMark);
    expect(useSelection.getState().marked).toEqual([3, 2]);
    expect(toggled(["a"], "b")).toEqual(["a", "b"]);
  });
});
