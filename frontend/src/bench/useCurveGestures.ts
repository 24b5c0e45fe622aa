import type { Layer } from "../api/types";
import type { TimeScale } from "../ui/timeScale";
import { type CurveAxis, roundedTime, roundedValue } from "./curveAxis";
import { type PointAddress, withNewPoint, withoutPoint, withPoint } from "./curveEdits";
import { withLayer } from "./edits";
import { type CurveName, edit, select } from "./store";

interface Facts {
  layer: Layer;
  curveName: CurveName;
  scale: TimeScale;
  axis: CurveAxis;
  holdS: number;
  svg: React.RefObject<SVGSVGElement | null>;
  setHeldRange: (range: [number, number] | null) => void;
  setReadout: (readout: { address: PointAddress; bend: boolean } | null) => void;
}

const BEND_PIXELS = 18;
const WORDS: Record<CurveName, string> = { level: "Level curve", pitch: "Pitch curve" };

/** What hand and keys do to a curve. */
export function useCurveGestures(facts: Facts) {
  const { layer, curveName, scale, axis, holdS, svg, setHeldRange, setReadout } = facts;
  const name = (what: string) => `${layer.name}, ${WORDS[curveName]}: ${what}`;
  const change = (
    label: string,
    to: (curve: Layer["level"]) => Layer["level"],
    gesture?: { gesture: string; moving: boolean },
  ) =>
    edit(
      name(label),
      (sound) => withLayer(sound, layer.id, (now) => ({ ...now, [curveName]: to(now[curveName]) })),
      gesture,
    );

  /** Follow the pointer until it is let go, then close the gesture. */
  const follow = (
    event: React.PointerEvent,
    move: (dx: number, dy: number, fine: boolean) => void,
    end: () => void,
  ) => {
    const element = event.currentTarget;
    const { clientX, clientY, pointerId } = event;
    element.setPointerCapture(pointerId);
    setHeldRange([axis.low, axis.high]);
    const onMove = (next: Event) => {
      if (next instanceof PointerEvent)
        move(next.clientX - clientX, next.clientY - clientY, next.altKey);
    };
    const onEnd = () => {
      element.removeEventListener("pointermove", onMove);
      element.removeEventListener("pointerup", onEnd);
      element.removeEventListener("pointercancel", onEnd);
      setHeldRange(null);
      end();
    };
    element.addEventListener("pointermove", onMove);
    element.addEventListener("pointerup", onEnd);
    element.addEventListener("pointercancel", onEnd);
  };

  const startDrag = (event: React.PointerEvent, address: PointAddress) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    select({ kind: "layer", id: layer.id });
    const start = layer[curveName][address.part][address.index];
    if (!start) return;
    const gesture = `${layer.id}.${curveName}.${address.part}.${address.index}@${event.timeStamp}`;
    const label = `point ${address.index + 1} moved`;
    const secondsPerPixel = (scale.endS - scale.startS) / Math.max(1, scale.width);
    setReadout({ address, bend: false });
    follow(
      event,
      (dx, dy, fine) => {
        const slow = fine ? 0.1 : 1;
        const time_s = roundedTime(start.time_s + dx * slow * secondsPerPixel);
        const value = roundedValue(axis.value(axis.y(start.value) + dy * slow), curveName);
        change(label, (curve) => withPoint(curve, address, { time_s, value }), {
          gesture,
          moving: true,
        });
      },
      () => change(label, (curve) => curve, { gesture, moving: false }),
    );
  };

  const startBend = (event: React.PointerEvent, address: PointAddress) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    select({ kind: "layer", id: layer.id });
    const curve = layer[curveName];
    const end = curve[address.part][address.index];
    const before = curve[address.part][address.index - 1] ?? curve.points.at(-1);
    if (!end || !before) return;
    const gesture = `${layer.id}.${curveName}.bend.${address.part}.${address.index}@${event.timeStamp}`;
    const label = `bend to point ${address.index + 1}`;
    // The line follows the hand: pulled down, a falling way falls sooner, a rising one later.
    const direction = end.value < before.value ? 1 : -1;
    setReadout({ address, bend: true });
    follow(
      event,
      (_dx, dy, fine) => {
        const amount = end.bend + (direction * dy * (fine ? 0.1 : 1)) / BEND_PIXELS;
        const bend = Math.round(Math.min(10, Math.max(-10, amount)) * 100) / 100;
        change(label, (now) => withPoint(now, address, { bend }), { gesture, moving: true });
      },
      () => {
        setReadout(null);
        change(label, (now) => now, { gesture, moving: false });
      },
    );
  };

  const addPoint = (event: React.MouseEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || (event.target as Element).hasAttribute("data-point")) return;
    const timeS = roundedTime(scale.time(event.clientX - box.left) - layer.delay_s);
    const value = roundedValue(axis.value(event.clientY - box.top), curveName);
    change("point added", (curve) => withNewPoint(curve, timeS, value, holdS).curve);
  };

  const pointKey = (event: React.KeyboardEvent, address: PointAddress) => {
    const start = layer[curveName][address.part][address.index];
    if (!start) return;
    if (event.key === "Delete" || event.key === "Backspace") {
      event.preventDefault();
      change(`point ${address.index + 1} removed`, (curve) => withoutPoint(curve, address));
      return;
    }
    const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    const steps: Partial<Record<string, [number, number]>> = {
      ArrowLeft: [-0.001, 0],
      ArrowRight: [0.001, 0],
      ArrowUp: [0, curveName === "level" ? 0.01 : 1],
      ArrowDown: [0, curveName === "level" ? -0.01 : -1],
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const time_s = roundedTime(start.time_s + step[0] * size);
    const limits: [number, number] = curveName === "level" ? [0, 1] : [-120, 120];
    const value = roundedValue(
      Math.min(limits[1], Math.max(limits[0], start.value + step[1] * size)),
      curveName,
    );
    change(`point ${address.index + 1} moved`, (curve) =>
      withPoint(curve, address, { time_s, value }),
    );
  };

  const selectLane = () => select({ kind: "layer", id: layer.id });
  return { startDrag, startBend, addPoint, pointKey, selectLane };
}
