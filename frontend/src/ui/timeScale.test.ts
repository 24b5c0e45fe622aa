import { describe, expect, it } from "vitest";
import { snapped, ticks, timeScale } from "./timeScale";

describe("the ruler's scale", () => {
  it.each(["even", "stretched"] as const)(
    "%s: place and time are each other's inverse",
    (shape) => {
      const scale = timeScale({ startS: 0.01, endS: 3 }, 800, shape);
      for (const timeS of [0.01, 0.02, 0.3, 2.99])
        expect(scale.time(scale.x(timeS))).toBeCloseTo(timeS, 9);
      expect(scale.x(3)).toBeCloseTo(800, 9);
    },
  );

  it("gives the first 50 ms of a second more than a third of a stretched ruler", () => {
    expect(timeScale({ startS: 0, endS: 1 }, 1000, "stretched").x(0.05)).toBeGreaterThan(300);
    expect(timeScale({ startS: 0, endS: 1 }, 1000).x(0.05)).toBeLessThan(70);
  });

  it("marks round times, and beats where they are asked for", () => {
    const labels = ticks(timeScale({ startS: 0, endS: 0.5 }, 600)).map(({ label }) => label);
    expect(labels).toEqual([
      "0",
      "50",
      "100",
      "150",
      "200",
      "250",
      "300",
      "350",
      "400",
      "450",
      "500",
    ]);
    const beats = ticks(timeScale({ startS: 0, endS: 11 }, 600), 60 / 90).map(({ label }) => label);
    expect(beats).toEqual(["0", "2", "4", "6", "8", "10", "12", "14", "16"]);
  });

  it("keeps marks of a stretched ruler apart and rising, from 0", () => {
    for (const beatS of [null, 0.625]) {
      const scale = timeScale({ startS: 0, endS: 4 }, 900, "stretched");
      const marks = ticks(scale, beatS);
      expect(marks[0]?.timeS).toBe(0);
      expect(marks.length).toBeGreaterThan(5);
      marks.slice(1).forEach(({ timeS }, n) => {
        expect(scale.x(timeS) - scale.x(marks[n]?.timeS ?? 0)).toBeGreaterThan(59);
      });
    }
  });

  it("snaps to a grid", () => {
    expect(snapped(0.0276, 0.005)).toBe(0.03);
    expect(snapped(0.0276, null)).toBe(0.0276);
    expect(snapped(10.5, 60 / 90)).toBeCloseTo((16 * 60) / 90, 9);
  });
});
