import { describe, expect, it } from "vitest";
import { valueText } from "./valueText";

describe("a value in a history", () => {
  it.each([
    [null, "none"],
    [undefined, "none"],
    ["", "none"],
    [[], "none"],
    [["low", "dry"], "low, dry"],
    [0, "0"],
    [true, "yes"],
    [false, "no"],
    ["house", "house"],
    [{}, "unchanged"],
    [{ gain_db: -3, fade_in_s: 0.01 }, "gain −3 dB, fade in 10 ms"],
    [{ start_s: 1.25, end_s: 2 }, "start 1.25 s, end 2 s"],
    [{ other: "x" }, "other x"],
  ])("%o reads %s", (value, text) => expect(valueText(value)).toBe(text));

  it("is cut where it is long", () => {
    const text = valueText("a".repeat(200));
    expect(text).toHaveLength(40);
    expect(text.endsWith("…")).toBe(true);
  });
});
