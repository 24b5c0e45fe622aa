import { snapped } from "../../ui";
import { CURVE_KINDS, pointsOnRuler, takePoints, type PointAddress } from "../../sound";
import { roundedTime } from "./curveAxis";
import { movedPoints, withoutPoints } from "./curveTools";
import {
  change,
  gridStep,
  groupAt,
  keyOf,
  movedWords,
  partStart,
  toggled,
  type EditedCurve,
} from "./editedCurve";

/** Keys at a point: remove, select, deselect, and move by arrows. */
export function pointKey(edited: EditedCurve, event: React.KeyboardEvent, address: PointAddress) {
  if (!edited.curve[address.part][address.index]) return;
  const select = (points: PointAddress[]) => takePoints(keyOf(edited), points);
  if (event.key === "Delete" || event.key === "Backspace") {
    event.preventDefault();
    select([]);
    remove(edited, address);
  } else if (event.key.toLowerCase() === "a" && (event.ctrlKey || event.metaKey)) {
    event.preventDefault();
    event.stopPropagation();
    select(pointsOnRuler(edited.curve, edited.holdS).map((one) => one.address));
  } else if (event.key === "Enter") {
    event.preventDefault();
    select(toggled(edited, address));
  } else if (event.key === "Escape") {
    select([]);
  } else {
    moveByArrow(edited, event, address);
  }
}

function remove(edited: EditedCurve, address: PointAddress): void {
  const group = groupAt(edited, address);
  const what =
    group.length > 1 ? `${group.length} points removed` : `point ${address.index + 1} removed`;
  change(edited, what, (now) => withoutPoints(now, group));
}

const ARROWS: Partial<Record<string, [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** With a grid the arrows go from line to line; Alt goes between them, Shift ten times as far. */
function moveByArrow(edited: EditedCurve, event: React.KeyboardEvent, address: PointAddress): void {
  const arrow = ARROWS[event.key];
  const start = edited.curve[address.part][address.index];
  if (!arrow || !start) return;
  event.preventDefault();
  event.stopPropagation();
  const [right, up] = arrow;
  const { name } = edited.curveRef;
  const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
  const value = up * CURVE_KINDS[name].step * size;
  const grid = event.altKey ? null : gridStep();
  const now = partStart(edited, address) + start.time_s;
  const next = grid === null ? now + right * 0.001 * size : snapped(now + right * grid, grid);
  const timeS = right === 0 ? 0 : roundedTime(next - partStart(edited, address)) - start.time_s;
  const group = groupAt(edited, address);
  const moved = movedWords(group, address);
  change(edited, moved, (own) => movedPoints(own, group, { timeS, value }, name));
}
