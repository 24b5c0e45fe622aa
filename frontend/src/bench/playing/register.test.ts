import { describe, expect, it } from "vitest";
import { goodRange, type Reading, shareAt } from "./register";

const reading = (note: number, more: Partial<Reading> = {}): Reading => ({
  note,
  loudness_lufs: -20,
  harsh_db: -20,
  low_db: -20,
  fundamental_db: -3,
  ...more,
});

describe("good range", () => {
  it("goes as far as the sound stays as it is at its own note", () => {
    const readings = [
      reading(36, { loudness_lufs: -40 }),
      reading(48),
      reading(60),
      reading(72, { harsh_db: -9 }),
      reading(84, { harsh_db: -2 }),
      reading(96),
    ];
    expect(goodRange(readings, 60)).toEqual({ low: 48, high: 72 });
  });

  it("holds the own note of a sound that is harsh there on purpose", () => {
    const readings = [reading(48), reading(60, { harsh_db: -1 }), reading(72, { harsh_db: 0 })];
    expect(goodRange(readings, 61)).toEqual({ low: 48, high: 72 });
    expect(goodRange([], 60)).toBeNull();
  });

  it("ends where its own pitch is no longer heard", () => {
    const readings = [reading(48, { fundamental_db: -60 }), reading(60), reading(72)];
    expect(goodRange(readings, 60)).toEqual({ low: 60, high: 72 });
  });
});

describe("share", () => {
  it("lies between the notes that were measured", () => {
    const readings = [reading(48, { loudness_lufs: -32 }), reading(60)];
    expect(shareAt(readings, 60, "level")).toBe(1);
    expect(shareAt(readings, 48, "level")).toBeCloseTo(0.5);
    expect(shareAt(readings, 54, "level")).toBeCloseTo(0.75);
    expect(shareAt(readings, 20, "level")).toBeCloseTo(0.5);
    expect(shareAt(readings, 100, "level")).toBe(1);
  });
});
