import type { Processor } from "../../../api";

export type Drive = Extract<Processor, { kind: "drive" }>;

const FOLD = 1 / (1 + 1 / 9 + 1 / 25);
/** By which the fold's slope at 0 is 1. */
const FOLD_TURN = 1 / (FOLD * (1 - 1 / 3 + 1 / 5));
const FURTHEST_BIAS = 0.9;

function bent(part: Drive, x: number): number {
  const u = FOLD_TURN * x;
  switch (part.shape) {
    case "soft":
      return Math.tanh(x);
    case "tube":
      return x > 0 ? Math.tanh(x) : 0.5 * Math.tanh(2 * x);
    case "hard":
      return Math.max(-1, Math.min(1, x));
    case "fold":
      return FOLD * (Math.sin(u) - Math.sin(3 * u) / 9 + Math.sin(5 * u) / 25);
    case "sine_fold":
      return Math.sin(x);
    case "rectify":
      return 1 - 1 / Math.cosh(Math.min(300, Math.abs(2 * x)));
    case "drawn":
      return drawnAt(part.drawn, x);
  }
}

/** Straight between the points of a drawn curve, level beyond, as the sound follows it. */
function drawnAt(points: Drive["drawn"], x: number): number {
  const after = points.findIndex((point) => point.x >= x);
  const next = after < 0 ? points.at(-1) : points[after];
  const before = after > 0 ? points[after - 1] : next;
  if (!next || !before) return 0;
  if (next.x === before.x) return next.y;
  return before.y + ((next.y - before.y) * (x - before.x)) / (next.x - before.x);
}

/** What a drive makes of a level from -1 to 1, its offset removed. */
export function transferAt(part: Drive, x: number): number {
  const bias = FURTHEST_BIAS * part.asymmetry;
  return bent(part, 10 ** (part.drive_db / 20) * x + bias) - bent(part, bias);
}
