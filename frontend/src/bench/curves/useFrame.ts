import { useState } from "react";
import { pointsOnRuler, takePoints } from "../../sound";
import { sameAddress } from "./curveTools";
import { keyOf, selectOwner, type EditedCurve } from "./editedCurve";
import { followPointer } from "./followPointer";

interface Frame {
  x: number;
  y: number;
  width: number;
  height: number;
}

const A_CLICK = 4;

/** On empty ground: a frame selects the points within it; a click selects none. */
export function useFrame(edited: EditedCurve) {
  const [frame, setFrame] = useState<Frame | null>(null);

  const startFrame = (event: React.PointerEvent) => {
    if (event.button !== 0) return;
    selectOwner(edited);
    const box = edited.svg.current?.getBoundingClientRect();
    if (!box) return;
    const [x, y] = [event.clientX - box.left, event.clientY - box.top];
    const kept = event.shiftKey ? edited.inHand : [];
    let last: Frame | null = null;
    followPointer(event, {
      move: (dx, dy) => {
        const small = Math.hypot(dx, dy) < A_CLICK;
        last = small ? null : frameBetween(x, y, x + dx, y + dy);
        setFrame(last);
      },
      end: () => {
        setFrame(null);
        const taken = last ? pointsWithin(edited, last) : [];
        const added = taken.filter((one) => !kept.some((own) => sameAddress(own, one)));
        takePoints(keyOf(edited), [...kept, ...added]);
      },
    });
  };
  return { frame, startFrame };
}

const frameBetween = (x0: number, y0: number, x1: number, y1: number): Frame => ({
  x: Math.min(x0, x1),
  y: Math.min(y0, y1),
  width: Math.abs(x1 - x0),
  height: Math.abs(y1 - y0),
});

function pointsWithin({ curve, holdS, delayS, scale, axis }: EditedCurve, frame: Frame) {
  return pointsOnRuler(curve, holdS)
    .filter(({ timeS, point }) => {
      const [x, y] = [scale.x(timeS + delayS) - frame.x, axis.y(point.value) - frame.y];
      return x >= 0 && x <= frame.width && y >= 0 && y <= frame.height;
    })
    .map(({ address }) => address);
}
