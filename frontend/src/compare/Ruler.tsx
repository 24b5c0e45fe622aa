import { useRef } from "react";
import { formatValue, ticks, type TimeScale } from "../ui";
import { LABEL_WIDTH } from "./layout";
import { leaveOut, useCompare } from "./store";

const LEAST_S = 0.002;

/** Time; dragged over, a stretch of it is chosen, to be looped or left out. */
export function Ruler({ scale, lengthS }: { scale: TimeScale; lengthS: number }) {
  const chosen = useCompare((state) => state.chosen);
  const from = useRef<number | null>(null);
  const place = useRef<HTMLDivElement>(null);
  const timeAt = (event: React.PointerEvent) => {
    const left = place.current?.getBoundingClientRect().left ?? 0;
    return Math.min(lengthS, Math.max(0, scale.time(event.clientX - left)));
  };
  const drag = (event: React.PointerEvent) => {
    if (from.current === null) return;
    const [fromS = 0, toS = 0] = [from.current, timeAt(event)].sort((a, b) => a - b);
    useCompare.setState({ chosen: toS - fromS >= LEAST_S ? { fromS, toS } : null });
  };
  return (
    <div className="no-select flex h-8 border-b border-line-strong bg-panel text-ink-2">
      <div
        className="flex shrink-0 items-center border-r border-line px-3 text-[12px]"
        style={{ width: LABEL_WIDTH }}
      >
        {chosen ? (
          <button
            type="button"
            className="min-h-6 rounded-sm underline"
            title={`${formatValue(chosen.fromS, "s")} to ${formatValue(chosen.toS, "s")} counts nowhere then`}
            onClick={() => leaveOut(chosen)}
          >
            Not part of it
          </button>
        ) : (
          <span title="Drag to choose a stretch: to loop it, or to leave it out">Time</span>
        )}
      </div>
      <div
        ref={place}
        className="relative min-w-0 flex-1 cursor-text overflow-hidden"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          from.current = timeAt(event);
          useCompare.setState({ chosen: null });
        }}
        onPointerMove={drag}
        onPointerUp={() => (from.current = null)}
      >
        {ticks(scale).map(({ timeS, label }) => (
          <span
            key={timeS}
            className="figure absolute top-0 bottom-0 border-l border-line-strong pt-1.5 pl-1 text-[11px]"
            style={{ left: scale.x(timeS) }}
          >
            {label}
          </span>
        ))}
      </div>
    </div>
  );
}
