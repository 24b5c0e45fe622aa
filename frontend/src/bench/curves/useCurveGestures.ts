import { snapped } from "../../ui";
import { withNewPoint, type PointAddress } from "../../sound";
import { roundedTime, roundedValue } from "./curveAxis";
import { startBend, startDrag } from "./dragPoints";
import { change, gridStep, type EditedCurve } from "./editedCurve";
import { pointKey } from "./pointKeys";
import { useFrame } from "./useFrame";

/** What pointer and keys do to a curve and to its selected points. */
export function useCurveGestures(edited: EditedCurve) {
  const frame = useFrame(edited);
  return {
    ...frame,
    startDrag: (event: React.PointerEvent, address: PointAddress) =>
      startDrag(edited, event, address),
    startBend: (event: React.PointerEvent, address: PointAddress) =>
      startBend(edited, event, address),
    pointKey: (event: React.KeyboardEvent, address: PointAddress) =>
      pointKey(edited, event, address),
    addPoint: (event: React.MouseEvent) => addPoint(edited, event),
  };
}

function addPoint(edited: EditedCurve, event: React.MouseEvent): void {
  const { svg, scale, axis, delayS, holdS, curveRef } = edited;
  const box = svg.current?.getBoundingClientRect();
  if (!box || (event.target as Element).hasAttribute("data-point")) return;
  const onRuler = snapped(scale.time(event.clientX - box.left), event.altKey ? null : gridStep());
  const timeS = roundedTime(onRuler - delayS);
  const value = roundedValue(axis.value(event.clientY - box.top), curveRef.name);
  change(edited, "point added", (now) => withNewPoint(now, timeS, value, holdS).curve);
}
