import { useRef } from "react";
import { keptWithin, LEAST_HEIGHT, usePathHeight } from "./pathHeight";

const STEP = 24;

/** The path's upper edge: dragged or moved by arrow keys; a double click gives the room it needs. */
export function HeightHandle({ height }: { height: number }) {
  const drag = useRef<{ y: number; height: number } | null>(null);
  const set = (wanted: number) =>
    usePathHeight.setState({ wanted: keptWithin(wanted, window.innerHeight) });
  return (
    <div
      role="separator"
      aria-orientation="horizontal"
      aria-label="Height of the path"
      aria-valuenow={height}
      aria-valuemin={LEAST_HEIGHT}
      aria-valuemax={keptWithin(Infinity, window.innerHeight)}
      tabIndex={0}
      title="Drag for more room; double click for as much as the sound needs"
      className="group/handle grid h-2 shrink-0 cursor-ns-resize touch-none place-items-center"
      onKeyDown={(event) => {
        const step = { ArrowUp: STEP, ArrowDown: -STEP }[event.key];
        if (step === undefined) return;
        event.preventDefault();
        set(height + step);
      }}
      onDoubleClick={() => usePathHeight.setState({ wanted: null })}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { y: event.clientY, height };
      }}
      onPointerMove={(event) => {
        if (drag.current) set(drag.current.height + drag.current.y - event.clientY);
      }}
      onPointerUp={() => {
        drag.current = null;
      }}
    >
      <span className="h-[3px] w-9 rounded-full bg-line-strong group-hover/handle:bg-ink-3" />
    </div>
  );
}
