import { describe, expect, it } from "vitest";
import { finder, labelPlace, type Mark, marksOf, nextMark, sizeOf, WAYS } from "./placing";

const at = (id: number, x: number, y: number): Mark => ({ id, x, y, category: "", lengthS: 1 });
const way = (key: string) => WAYS[key] ?? [0, 0];

/** Places spread without a pattern, the same each time. */
const scattered = Array.from({ length: 800 }, (_, n) =>
  at(n, (n * 131.7) % 900, (n * 77.3 + n * n * 0.31) % 600),
);

describe("the places of a map", () => {
  const answer = {
    ids: [7, 9],
    x: [0, 1],
    y: [0.5, 1],
    category: [1, 0],
    length_s: [0.2, 3],
    categories: ["drum", "tonal"],
  };

  it("lie within the surface with a margin, beside the list of shapes", () => {
    expect(marksOf(answer, 512, 200)).toEqual([
      { id: 7, x: 36, y: 100, category: "tonal", lengthS: 0.2 },
      { id: 9, x: 364, y: 164, category: "drum", lengthS: 3 },
    ]);
  });

  it("are drawn larger for what is longer, up to a size", () => {
    expect(sizeOf(0)).toBe(4);
    expect(sizeOf(2)).toBeGreaterThan(sizeOf(0.2));
    expect(sizeOf(500)).toBe(sizeOf(8));
  });
});

describe("the mark that is pointed at", () => {
  it("is the nearest within reach, as looking at all of them would say", () => {
    const find = finder(scattered);
    for (let n = 0; n < 200; n++) {
      const [x, y] = [(n * 53.1) % 900, (n * 91.7) % 600];
      const far = (mark: Mark) => Math.hypot(mark.x - x, mark.y - y);
      const nearest = [...scattered].sort((a, b) => far(a) - far(b))[0];
      const found = find(x, y);
      if (nearest && far(nearest) < 40) expect(found && far(found)).toBeCloseTo(far(nearest), 9);
      else expect(found).toBeUndefined();
    }
  });

  it("is none where nothing is near", () => {
    expect(finder([at(1, 0, 0)])(100, 0)).toBeUndefined();
    expect(finder([])(0, 0)).toBeUndefined();
  });
});

describe("going on by the arrows", () => {
  const cross = [at(0, 0, 0), at(1, 50, 5), at(2, -50, 0), at(3, 0, 50), at(4, 0, -50)];

  it.each([
    ["ArrowRight", 1],
    ["ArrowLeft", 2],
    ["ArrowDown", 3],
    ["ArrowUp", 4],
  ])("%s reaches what lies there", (key, id) => {
    expect(nextMark(cross, at(0, 0, 0), way(key))?.id).toBe(id);
  });

  it("prefers what lies straight ahead to what is a little nearer but aside", () => {
    const marks = [at(1, 60, 0), at(2, 40, 38)];
    expect(nextMark(marks, at(0, 0, 0), way("ArrowRight"))?.id).toBe(1);
  });

  it("stays where nothing lies ahead", () => {
    expect(nextMark(cross, at(1, 50, 5), way("ArrowRight"))).toBeUndefined();
  });

  it("comes to every mark from the first, so that none is out of the keyboard's reach", () => {
    const few = scattered.slice(0, 120);
    const first = few[0];
    const reached = new Set([0]);
    const open = first ? [first] : [];
    for (let mark = open.pop(); mark; mark = open.pop())
      for (const key of Object.keys(WAYS)) {
        const next = nextMark(few, mark, way(key));
        if (next && !reached.has(next.id)) {
          reached.add(next.id);
          open.push(next);
        }
      }
    expect(reached.size).toBeGreaterThan(110);
  });
});

describe("a label", () => {
  const mark = at(1, 200, 200);
  const place = (others: Mark[]) => labelPlace(mark, 100, { others, width: 400 });

  it("lies right above its mark where nothing else is", () => {
    const { x, y } = place([mark]);
    expect(x).toBeGreaterThan(mark.x);
    expect(y).toBeLessThan(mark.y);
  });

  it("goes where it covers no other mark", () => {
    const rightAbove = at(2, 240, 180);
    const leftAbove = at(3, 150, 180);
    expect(place([rightAbove]).x).toBeLessThan(mark.x);
    const below = place([rightAbove, leftAbove]);
    expect(below.x).toBeGreaterThan(mark.x);
    expect(below.y).toBeGreaterThan(mark.y);
  });

  it("stays within the surface, and is there where everything is full", () => {
    const edge = labelPlace(at(1, 390, 8), 100, { others: [], width: 400 });
    expect(edge.x + 100).toBeLessThan(400);
    expect(edge.y).toBeGreaterThanOrEqual(16);
    expect(place(scattered).y).toBeLessThan(mark.y);
  });
});
