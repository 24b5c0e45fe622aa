import { describe, expect, it } from "vitest";
import type { Curve, Mover } from "../api/types";
import { timeRefusal, withPointAt } from "./curveEdits";
import { curveAt, curveKey, type CurveRef, withCurve } from "./curveRef";
import { emptySound } from "./edits";
import { newMover } from "./moverEdits";

const at = (...times: number[]): Curve => ({
  points: times.map((time_s) => ({ time_s, value: time_s, bend: 0 })),
  release: [],
  loop: null,
});
const times = (curve: Curve) => curve.points.map(({ time_s }) => time_s);

describe("a typed time", () => {
  it("leaves the points after it where it does not pass them", () =>
    expect(times(withPointAt(at(0, 1, 2), { part: "points", index: 1 }, 1.5))).toEqual([
      0, 1.5, 2,
    ]));

  it("moves the points after it along where it would pass them", () =>
    expect(times(withPointAt(at(0, 1, 2, 4), { part: "points", index: 1 }, 3))).toEqual([
      0, 3, 4, 6,
    ]));

  it("is refused before the point before it, and where a point would lie beyond the end", () => {
    const curve = at(0, 1, 59);
    expect(timeRefusal(curve, { part: "points", index: 2 }, 0.5)).toContain("at 1 s");
    expect(timeRefusal(curve, { part: "points", index: 1 }, 60)).toContain("beyond 60 s");
    expect(timeRefusal(curve, { part: "points", index: 1 }, 2)).toBeNull();
  });
});

describe("a mover's curve", () => {
  it.each(["curve", "lfo"] as const)(
    "of a %s is read and changed as those of layers are",
    (kind) => {
      const empty = emptySound("Test");
      const mover = newMover(empty, kind);
      const sound = { ...empty, movers: [mover] };
      const ref: CurveRef = { name: "mover", moverId: mover.id };
      expect(curveKey(ref)).toBe(`${mover.id}.mover`);
      const changed = withCurve(sound, ref, () => at(0, 2));
      expect(curveAt(changed, ref)).toEqual(at(0, 2));
      const [made] = changed.movers as [Mover];
      expect({ ...made, [kind === "lfo" ? "drawn" : "curve"]: curveAt(sound, ref) }).toEqual(mover);
    },
  );
});
