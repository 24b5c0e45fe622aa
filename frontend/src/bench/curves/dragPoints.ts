import { snapped } from "../../ui";
import { takePoints, withPoint, type PointAddress } from "../../sound";
import { roundedTime, roundedValue } from "./curveAxis";
import { movedPoints } from "./curveTools";
import {
  change,
  endGesture,
  gridStep,
  groupAt,
  hold,
  isTaken,
  keyOf,
  movedWords,
  partStart,
  selectOwner,
  toggled,
  type EditedCurve,
} from "./editedCurve";

const BEND_PIXELS = 18;
const FINE = 0.1;

/** At a point: Shift or Ctrl selects it too; else it is dragged, with all selected ones. */
export function startDrag(edited: EditedCurve, event: React.PointerEvent, address: PointAddress) {
  if (event.button !== 0) return;
  event.stopPropagation();
  selectOwner(edited);
  const start = edited.curve[address.part][address.index];
  if (!start) return;
  if (event.shiftKey || event.ctrlKey) {
    takePoints(keyOf(edited), toggled(edited, address));
    return;
  }
  const { curve, curveRef, scale, axis } = edited;
  const group = groupAt(edited, address);
  if (!isTaken(edited, address)) takePoints(keyOf(edited), group);
  const gesture = `${keyOf(edited)}.${address.part}.${address.index}@${event.timeStamp}`;
  const what = movedWords(group, address);
  const startX = scale.x(partStart(edited, address) + start.time_s);
  edited.setReadout({ address, bend: false });
  hold(edited, event, {
    move: (dx, dy, fine) => {
      const slow = fine ? FINE : 1;
      const free = scale.time(startX + dx * slow);
      const onRuler = fine ? free : snapped(free, gridStep());
      const time = roundedTime(onRuler - partStart(edited, address));
      const value = roundedValue(axis.value(axis.y(start.value) + dy * slow), curveRef.name);
      const by = { timeS: time - start.time_s, value: value - start.value };
      // From where the gesture began: what a neighbour held back is not lost on the way back.
      const moved = () => movedPoints(curve, group, by, curveRef.name);
      change(edited, what, moved, { gesture, moving: true });
    },
    end: () => endGesture(edited, what, gesture),
  });
}

/** At the line to a point: dragged up or down it bends. */
export function startBend(edited: EditedCurve, event: React.PointerEvent, address: PointAddress) {
  if (event.button !== 0) return;
  event.stopPropagation();
  selectOwner(edited);
  const { curve } = edited;
  const end = curve[address.part][address.index];
  const before = curve[address.part][address.index - 1] ?? curve.points.at(-1);
  if (!end || !before) return;
  const gesture = `${keyOf(edited)}.bend.${address.part}.${address.index}@${event.timeStamp}`;
  const what = `bend to point ${address.index + 1}`;
  // The line follows the pointer: pulled down, a falling line falls sooner, a rising one later.
  const direction = end.value < before.value ? 1 : -1;
  edited.setReadout({ address, bend: true });
  hold(edited, event, {
    move: (_dx, dy, fine) => {
      const amount = end.bend + (direction * dy * (fine ? FINE : 1)) / BEND_PIXELS;
      const bend = Math.round(Math.min(10, Math.max(-10, amount)) * 100) / 100;
      const bent = { gesture, moving: true };
      change(edited, what, (now) => withPoint(now, address, { bend }), bent);
    },
    end: () => {
      edited.setReadout(null);
      endGesture(edited, what, gesture);
    },
  });
}
