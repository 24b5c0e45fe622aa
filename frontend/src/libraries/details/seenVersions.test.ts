import { describe, expect, it } from "vitest";
import { SeenVersions } from "./seenVersions";

describe("versions that were seen", () => {
  it("go on with one's own saves, however old the page's is", () => {
    const seen = new SeenVersions();
    seen.saved(3, 4);
    seen.saved(4, 5);
    expect(seen.newest(3)).toBe(5);
    expect(seen.newest(4)).toBe(5);
    expect(seen.newest(5)).toBe(5);
    expect(seen.newest(9)).toBe(9);
  });

  it("end where someone else came", () => {
    const seen = new SeenVersions();
    seen.saved(3, 4);
    // 5 was another's; the own change went on top of it.
    seen.saved(4, 6);
    expect(seen.newest(3)).toBe(4);
    expect(seen.newest(6)).toBe(6);
  });

  it("stay where a save changed nothing", () => {
    const seen = new SeenVersions();
    seen.saved(3, 3);
    expect(seen.newest(3)).toBe(3);
  });

  it("begin at a choice between two values, and go on from there", () => {
    const seen = new SeenVersions();
    seen.chosen(7);
    expect(seen.newest(3)).toBe(7);
    seen.saved(7, 8);
    expect(seen.newest(3)).toBe(8);
    seen.chosen(5);
    expect(seen.newest(3)).toBe(8);
  });
});
