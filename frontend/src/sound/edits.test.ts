import { describe, expect, it } from "vitest";
import type { Curve } from "../api/types";
import { curveOutline, withNewPoint, withoutPoint, withPoint } from "./curveEdits";
import { emptySound, freshId, newLayer, withEdits, withLayerMoved } from "./edits";
import { withDuplicate } from "./duplicate";
import { edit, openDocument, redo, undo, useBench } from "./store";

const curve = (times: number[], release: number[] = []): Curve => {
  const rows = (list: number[]) => list.map((time_s, n) => ({ time_s, value: n / 10, bend: 0 }));
  return { points: rows(times), release: rows(release), loop: null };
};

describe("curves", () => {
  it("keeps points between their neighbours", () => {
    const moved = withPoint(curve([0, 0.1, 0.2]), { part: "points", index: 1 }, { time_s: 5 });
    expect(moved.points[1]?.time_s).toBe(0.2);
  });

  it("puts a new point in order, and after the hold into the release", () => {
    const { curve: held, address } = withNewPoint(curve([0, 0.1]), 0.05, 0.7, 0.3);
    expect(held.points.map((point) => point.time_s)).toEqual([0, 0.05, 0.1]);
    expect(address).toEqual({ part: "points", index: 1 });
    const released = withNewPoint(curve([0, 0.1], [0.2]), 0.4, 0.5, 0.3);
    expect(released.address.part).toBe("release");
    expect(released.curve.release[0]?.time_s).toBeCloseTo(0.1);
  });

  it("moves a loop along with what is put before it", () => {
    const looped = { ...curve([0, 0.1, 0.2]), loop: { start: 1, end: 2 } };
    expect(withNewPoint(looped, 0.05, 0, 1).curve.loop).toEqual({ start: 2, end: 3 });
  });

  it("keeps the last point", () => {
    const single = curve([0]);
    expect(withoutPoint(single, { part: "points", index: 0 })).toBe(single);
  });

  it("draws the way to the release from wherever the hold ends", () => {
    const drawn = curveOutline(curve([0, 1], [0.5]), 0.5, 2);
    const atHold = drawn.find(({ timeS }) => timeS === 0.5);
    expect(atHold?.value).toBeCloseTo(0.05);
    expect(drawn.at(-1)).toEqual({ timeS: 2, value: 0 });
  });
});

describe("sounds", () => {
  it("gives ids that no part has", () => {
    const sound = emptySound("Test");
    const more = { ...sound, layers: [...sound.layers, newLayer(sound, "tone")] };
    expect(new Set(more.layers.map((layer) => layer.id)).size).toBe(2);
    expect(freshId(more, "tone")).toBe("tone-3");
  });

  it("duplicates a layer below it with ids of its own, and moves it", () => {
    const start = emptySound("Test");
    const { sound, newId } = withDuplicate(start, "tone-1");
    expect(sound.layers.map(({ id }) => id)).toEqual(["tone-1", newId]);
    expect(sound.layers[1]?.name).toBe("Sine copy");
    expect(withLayerMoved(sound, newId, -1).layers.map(({ id }) => id)).toEqual([newId, "tone-1"]);
    expect(withLayerMoved(sound, newId, 1)).toBe(sound);
  });

  it("makes a fix's edits at their paths", () => {
    const fixed = withEdits(emptySound("Test"), [
      { path: "main.level_db", value: -3 },
      { path: "layers.0.level_db", value: -9 },
    ]);
    expect([fixed.main.level_db, fixed.layers[0]?.level_db]).toEqual([-3, -9]);
  });
});

describe("history", () => {
  const opened = { id: 1, libraryId: 1, libraryName: "L", revision: 0 };
  const open = () =>
    openDocument({ ...opened, isPrivate: false, editable: true }, 1, emptySound("Start"));
  const rename = (name: string, how = {}) => edit(name, (sound) => ({ ...sound, name }), how);
  const name = () => useBench.getState().document?.name;

  it("goes back and forth by named steps", () => {
    open();
    rename("One");
    rename("Two");
    expect(useBench.getState().past.map(({ label }) => label)).toEqual(["One", "Two"]);
    undo();
    expect(name()).toBe("One");
    redo();
    expect(name()).toBe("Two");
    undo();
    rename("Three");
    redo();
    expect(name()).toBe("Three");
  });

  it("makes one step of a whole drag", () => {
    open();
    for (const text of ["a", "ab", "abc"]) rename(text, { gesture: "drag", moving: true });
    rename("abc", { gesture: "drag", moving: false });
    expect(useBench.getState().gesture).toBeNull();
    expect(useBench.getState().past).toHaveLength(1);
    undo();
    expect(name()).toBe("Start");
  });

  it("keeps two drags apart", () => {
    open();
    for (const gesture of ["first", "second"]) {
      rename(gesture, { gesture, moving: true });
      edit(gesture, (sound) => sound, { gesture, moving: false });
    }
    expect(useBench.getState().past).toHaveLength(2);
  });
});
