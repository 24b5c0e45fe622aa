import { useState } from "react";
import type { Curve } from "../../api";
import { snapped, type TimeScale } from "../../ui";
import { gridSeconds, useRuler } from "../parts";
import {
  select,
  takePoints,
  useBench,
  type PointAddress,
  pointsOnRuler,
  withNewPoint,
  withPoint,
  curveKey,
  type CurveRef,
  editCurve,
} from "../../sound";
import { type CurveAxis, roundedTime, roundedValue } from "./curveAxis";
import { movedPoints, sameAddress, withoutPoints } from "./curveTools";
import { followPointer } from "./followPointer";

interface Facts {
  curveRef: CurveRef;
  curve: Curve;
  delayS: number;
  holdS: number;
  scale: TimeScale;
  axis: CurveAxis;
  inHand: PointAddress[];
  svg: React.RefObject<SVGSVGElement | null>;
  setHeldRange: (range: [number, number] | null) => void;
  setReadout: (readout: { address: PointAddress; bend: boolean } | null) => void;
}

interface Frame {
  x: number;
  y: number;
  width: number;
  height: number;
}

const BEND_PIXELS = 18;
const A_CLICK = 4;

/** What hand and keys do to a curve and to the points of it that are in hand. */
export function useCurveGestures(facts: Facts) {
  const { curveRef, curve, delayS, holdS, scale, axis, inHand, svg } = facts;
  const { setHeldRange, setReadout } = facts;
  const [frame, setFrame] = useState<Frame | null>(null);
  const key = curveKey(curveRef);
  const gridS = () =>
    gridSeconds(useRuler.getState().grid, useBench.getState().document?.tempo_bpm ?? 120);

  const change = (
    what: string,
    to: (now: Curve) => Curve,
    how?: { gesture: string; moving: boolean },
  ) => {
    const { document } = useBench.getState();
    if (document) editCurve(document, curveRef, what, to, how);
  };
  const takeOwner = () =>
    select(curveRef.layerId === null ? { kind: "pitch" } : { kind: "layer", id: curveRef.layerId });
  const hold = (event: React.PointerEvent, on: Parameters<typeof followPointer>[1]) => {
    setHeldRange([axis.low, axis.high]);
    followPointer(event, {
      move: on.move,
      end: (moved) => {
        setHeldRange(null);
        on.end(moved);
      },
    });
  };
  /** When a part of the curve begins on the ruler. */
  const partStart = ({ part }: PointAddress) => delayS + (part === "release" ? holdS : 0);

  const startDrag = (event: React.PointerEvent, address: PointAddress) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    takeOwner();
    const start = curve[address.part][address.index];
    if (!start) return;
    const taken = inHand.some((one) => sameAddress(one, address));
    if (event.shiftKey || event.ctrlKey) {
      const others = inHand.filter((one) => !sameAddress(one, address));
      takePoints(key, taken ? others : [...inHand, address]);
      return;
    }
    const group = taken ? inHand : [address];
    if (!taken) takePoints(key, [address]);
    const gesture = `${key}.${address.part}.${address.index}@${event.timeStamp}`;
    const what =
      group.length > 1 ? `${group.length} points moved` : `point ${address.index + 1} moved`;
    const startX = scale.x(partStart(address) + start.time_s);
    setReadout({ address, bend: false });
    hold(event, {
      move: (dx, dy, fine) => {
        const slow = fine ? 0.1 : 1;
        const free = scale.time(startX + dx * slow);
        const time = roundedTime((fine ? free : snapped(free, gridS())) - partStart(address));
        const value = roundedValue(axis.value(axis.y(start.value) + dy * slow), curveRef.name);
        const by = { timeS: time - start.time_s, value: value - start.value };
        // From where the gesture began: what a neighbour held back is not lost on the way back.
        change(what, () => movedPoints(curve, group, by, curveRef.name), { gesture, moving: true });
      },
      end: () => change(what, (now) => now, { gesture, moving: false }),
    });
  };

  const startBend = (event: React.PointerEvent, address: PointAddress) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    takeOwner();
    const end = curve[address.part][address.index];
    const before = curve[address.part][address.index - 1] ?? curve.points.at(-1);
    if (!end || !before) return;
    const gesture = `${key}.bend.${address.part}.${address.index}@${event.timeStamp}`;
    const what = `bend to point ${address.index + 1}`;
    // The line follows the hand: pulled down, a falling way falls sooner, a rising one later.
    const direction = end.value < before.value ? 1 : -1;
    setReadout({ address, bend: true });
    hold(event, {
      move: (_dx, dy, fine) => {
        const amount = end.bend + (direction * dy * (fine ? 0.1 : 1)) / BEND_PIXELS;
        const bend = Math.round(Math.min(10, Math.max(-10, amount)) * 100) / 100;
        change(what, (now) => withPoint(now, address, { bend }), { gesture, moving: true });
      },
      end: () => {
        setReadout(null);
        change(what, (now) => now, { gesture, moving: false });
      },
    });
  };

  /** On empty ground: a frame that takes the points within it; a click lets all go. */
  const startFrame = (event: React.PointerEvent) => {
    if (event.button !== 0) return;
    takeOwner();
    const box = svg.current?.getBoundingClientRect();
    if (!box) return;
    const from = { x: event.clientX - box.left, y: event.clientY - box.top };
    const kept = event.shiftKey ? inHand : [];
    const framed = (dx: number, dy: number): Frame => ({
      x: Math.min(from.x, from.x + dx),
      y: Math.min(from.y, from.y + dy),
      width: Math.abs(dx),
      height: Math.abs(dy),
    });
    let last: Frame | null = null;
    followPointer(event, {
      move: (dx, dy) => {
        last = Math.hypot(dx, dy) < A_CLICK ? null : framed(dx, dy);
        setFrame(last);
      },
      end: () => {
        setFrame(null);
        const within = ({ x, y, width, height }: Frame) =>
          pointsOnRuler(curve, holdS)
            .filter(({ timeS, point }) => {
              const [px, py] = [scale.x(timeS + delayS), axis.y(point.value)];
              return px >= x && px <= x + width && py >= y && py <= y + height;
            })
            .map(({ address }) => address);
        const taken = last ? within(last) : [];
        const added = taken.filter((one) => !kept.some((own) => sameAddress(own, one)));
        takePoints(key, [...kept, ...added]);
      },
    });
  };

  const addPoint = (event: React.MouseEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || (event.target as Element).hasAttribute("data-point")) return;
    const onRuler = snapped(scale.time(event.clientX - box.left), event.altKey ? null : gridS());
    const timeS = roundedTime(onRuler - delayS);
    const value = roundedValue(axis.value(event.clientY - box.top), curveRef.name);
    change("point added", (now) => withNewPoint(now, timeS, value, holdS).curve);
  };

  const pointKey = (event: React.KeyboardEvent, address: PointAddress) => {
    const start = curve[address.part][address.index];
    if (!start) return;
    const group = inHand.some((one) => sameAddress(one, address)) ? inHand : [address];
    const many = group.length > 1;
    if (event.key === "Delete" || event.key === "Backspace") {
      event.preventDefault();
      const what = many ? `${group.length} points removed` : `point ${address.index + 1} removed`;
      takePoints(key, []);
      change(what, (now) => withoutPoints(now, group));
      return;
    }
    if (event.key.toLowerCase() === "a" && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      event.stopPropagation();
      takePoints(
        key,
        pointsOnRuler(curve, holdS).map((one) => one.address),
      );
      return;
    }
    if (event.key === "Enter") {
      const others = inHand.filter((one) => !sameAddress(one, address));
      takePoints(key, others.length < inHand.length ? others : [...inHand, address]);
      event.preventDefault();
      return;
    }
    if (event.key === "Escape") return takePoints(key, []);
    const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    const valueStep = curveRef.name === "level" ? 0.01 : 1;
    const steps: Partial<Record<string, [number, number]>> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, valueStep * size],
      ArrowDown: [0, -valueStep * size],
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    // With a grid the arrows go from line to line; Alt goes between them.
    const grid = event.altKey ? null : gridS();
    const now = partStart(address) + start.time_s;
    const next = grid === null ? now + step[0] * 0.001 * size : snapped(now + step[0] * grid, grid);
    const timeS = step[0] === 0 ? 0 : roundedTime(next - partStart(address)) - start.time_s;
    const what = many ? `${group.length} points moved` : `point ${address.index + 1} moved`;
    change(what, (own) => movedPoints(own, group, { timeS, value: step[1] }, curveRef.name));
  };

  return { startDrag, startBend, startFrame, addPoint, pointKey, frame };
}
