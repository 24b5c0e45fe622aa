import { describe, expect, it } from "vitest";
import { chordText, matches } from "./chords";

const press = (key: string, held: Partial<KeyboardEvent> = {}) =>
  ({
    key,
    code: "",
    ctrlKey: false,
    metaKey: false,
    shiftKey: false,
    altKey: false,
    ...held,
  }) as KeyboardEvent;

describe("a chord of keys", () => {
  it.each([
    ["b", press("b"), true],
    ["b", press("B", { shiftKey: true }), false],
    ["b", press("b", { ctrlKey: true }), false],
    ["b", press("b", { altKey: true }), false],
    ["Ctrl+z", press("z", { ctrlKey: true }), true],
    ["Ctrl+z", press("z", { metaKey: true }), true],
    ["Ctrl+z", press("Z", { ctrlKey: true, shiftKey: true }), false],
    ["Ctrl+Shift+z", press("Z", { ctrlKey: true, shiftKey: true }), true],
    ["Shift+Digit1", press("!", { code: "Digit1", shiftKey: true }), true],
    ["1", press("1", { code: "Digit1" }), true],
    ["1", press("!", { code: "Digit1", shiftKey: true }), false],
    ["?", press("?", { shiftKey: true }), true],
    ["/", press("/"), true],
    ["+", press("+"), true],
    ["+", press("+", { shiftKey: true }), true],
    ["Shift+Home", press("Home", { code: "Home", shiftKey: true }), true],
    ["Home", press("Home", { code: "Home", shiftKey: true }), false],
  ])("%s", (chord, event, is) => {
    expect(matches(event, chord)).toBe(is);
  });

  it.each([
    ["Ctrl+Shift+z", "Ctrl Shift Z"],
    ["Shift+Digit0", "Shift 0"],
    ["Shift+KeyB", "Shift B"],
    ["+", "+"],
    ["-", "−"],
    ["?", "?"],
  ])("is written for people: %s", (chord, text) => {
    expect(chordText(chord)).toBe(text);
  });
});
