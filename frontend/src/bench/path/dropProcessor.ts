import { useState } from "react";
import { select } from "../../sound";
import { endDrag, useDragging } from "./dragging";
import { moveProcessor } from "./reordering";

interface Place {
  x: number;
  y: number;
}
type Box = Pick<DOMRect, "left" | "top" | "width" | "bottom">;

/** Before which of the boxes, which stand in rows, a place lies; their number where after all. */
export function gapAt({ x, y }: Place, boxes: Box[]): number {
  const after = boxes.findIndex(
    ({ left, top, width, bottom }) => y < top || (y <= bottom && x < left + width / 2),
  );
  return after < 0 ? boxes.length : after;
}

/** Between which steps of a chain the pointer is, while a processor is dragged over it. */
export function useChainDrop(ref: string, count: number) {
  const dragged = useDragging((state) => state.dragged);
  const [gap, setGap] = useState<number | null>(null);
  const taking = dragged?.kind === "processor";
  const place = (event: React.DragEvent) => {
    const steps = [...event.currentTarget.children].filter((one) => one.matches("[data-step]"));
    const boxes = steps.map((one) => one.getBoundingClientRect());
    return Math.min(count, gapAt({ x: event.clientX, y: event.clientY }, boxes));
  };
  return {
    gap: taking ? gap : null,
    handlers: {
      onDragOver: (event: React.DragEvent) => {
        if (!taking) return;
        event.preventDefault();
        // The innermost chain takes it: a branch, not the chain around its fork.
        event.stopPropagation();
        setGap(place(event));
      },
      onDragLeave: () => setGap(null),
      onDrop: (event: React.DragEvent) => {
        if (!taking) return;
        event.preventDefault();
        event.stopPropagation();
        const index = place(event);
        moveProcessor(dragged.id, ref, index);
        select({ kind: "processor", id: dragged.id });
        setGap(null);
        endDrag();
      },
    },
  };
}
