/** Marks of a map and where they lie on screen: found by place and by direction. */

export interface Mark {
  id: number;
  x: number;
  y: number;
  category: string;
  lengthS: number;
}

interface Answer {
  ids: number[];
  x: number[];
  y: number[];
  category: number[];
  length_s: number[];
  categories: string[];
}

const MARGIN = 36;
// Beside the points, for the list of what their shapes mean.
const LEGEND = 112;
const CELL = 40;

/** The marks of a map laid out on a surface of a size in pixels. */
export function marksOf(answer: Answer, width: number, height: number): Mark[] {
  return answer.ids.map((id, n) => ({
    id,
    x: MARGIN + (answer.x[n] ?? 0) * (width - 2 * MARGIN - LEGEND),
    y: MARGIN + (answer.y[n] ?? 0) * (height - 2 * MARGIN),
    category: answer.categories[answer.category[n] ?? -1] ?? "",
    lengthS: answer.length_s[n] ?? 0,
  }));
}

/** How large a mark is drawn: an octave of length more is a step more. */
export const sizeOf = (lengthS: number) => 4 + 2.2 * Math.log2(1 + 4 * Math.min(8, lengthS));

const cellOf = (x: number, y: number) => `${Math.floor(x / CELL)} ${Math.floor(y / CELL)}`;

/** Finds the mark nearest to a place, within a cell's width, without looking at all of them. */
export function finder(marks: Mark[]) {
  const cells = new Map<string, Mark[]>();
  for (const mark of marks) {
    const key = cellOf(mark.x, mark.y);
    const cell = cells.get(key);
    if (cell) cell.push(mark);
    else cells.set(key, [mark]);
  }
  return (x: number, y: number): Mark | undefined => {
    let nearest: Mark | undefined;
    let least = CELL;
    for (const dx of [-CELL, 0, CELL])
      for (const dy of [-CELL, 0, CELL])
        for (const mark of cells.get(cellOf(x + dx, y + dy)) ?? []) {
          const far = Math.hypot(mark.x - x, mark.y - y);
          if (far < least) [nearest, least] = [mark, far];
        }
    return nearest;
  };
}

export const WAYS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The mark that one means by going on from another in a direction: ahead, near and straight. */
export function nextMark(
  marks: Mark[],
  from: Mark,
  [wayX, wayY]: readonly [number, number],
): Mark | undefined {
  let best: Mark | undefined;
  let least = Infinity;
  for (const mark of marks) {
    const [dx, dy] = [mark.x - from.x, mark.y - from.y];
    const along = dx * wayX + dy * wayY;
    if (along <= 2) continue;
    const far = Math.hypot(dx, dy);
    const cost = far * (1 + (2 * (far - along)) / Math.max(1, along));
    if (cost < least) [best, least] = [mark, cost];
  }
  return best;
}

const LABEL_HEIGHT = 18;

/**
 * Where a label beside a mark begins, x and y of its foot line: right of it or left, above or below,
 * where it covers none of the other marks, and within the width.
 */
export function labelPlace(
  at: Mark,
  labelWidth: number,
  { others, width }: { others: Mark[]; width: number },
): { x: number; y: number } {
  const reach = sizeOf(at.lengthS) / 2 + 10;
  const right = Math.min(width - labelWidth - 8, at.x + 12);
  const left = Math.max(4, at.x - 12 - labelWidth);
  const above = Math.max(16, at.y - reach);
  const below = at.y + reach + 12;
  const places = [above, below].flatMap((y) => [right, left].map((x) => ({ x, y })));
  const covers = ({ x, y }: { x: number; y: number }) =>
    others.some((mark) => {
      const half = sizeOf(mark.lengthS) / 2 + 6;
      return (
        mark.id !== at.id &&
        mark.x + half > x &&
        mark.x - half < x + labelWidth &&
        mark.y + half > y - LABEL_HEIGHT &&
        mark.y - half < y + 4
      );
    });
  return places.find((place) => !covers(place)) ?? { x: right, y: above };
}
