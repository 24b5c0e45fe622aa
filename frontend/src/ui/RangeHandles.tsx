import { useRef } from "react";
import type { Parameter } from "../api";
import { fromFraction, settled, toFraction } from "./scales";

export interface MovedRange {
  from: number;
  to: number;
  /** Put one end elsewhere; ``moving`` while the hand still moves. */
  onEnd: (end: "from" | "to", value: number, moving: boolean) => void;
}

interface Props {
  parameter: Parameter;
  range: MovedRange;
}

/**
 * Where movement takes a value, on its bar: a band with a handle at either end. By keyboard the
 * ends are typed where the link stands.
 */
export function RangeHandles({ parameter, range }: Props) {
  const track = useRef<HTMLSpanElement>(null);
  const dragged = useRef<"from" | "to" | null>(null);
  const at = (value: number) => toFraction(value, parameter) * 100;
  const [left, right] = [at(Math.min(range.from, range.to)), at(Math.max(range.from, range.to))];
  const valueUnder = (event: React.PointerEvent) => {
    const box = track.current?.getBoundingClientRect();
    if (!box) return parameter.default;
    return settled(fromFraction((event.clientX - box.left) / box.width, parameter), parameter);
  };
  return (
    <span ref={track} aria-hidden className="pointer-events-none absolute inset-0">
      <span
        className="absolute top-1/2 h-1.5 -translate-y-1/2 rounded-full bg-action opacity-40"
        style={{ left: `${left}%`, width: `${Math.max(1, right - left)}%` }}
      />
      {(["from", "to"] as const).map((end) => (
        <span
          key={end}
          data-end={end}
          className="pointer-events-auto absolute top-1/2 h-3.5 w-1.5 -translate-x-1/2 -translate-y-1/2 cursor-col-resize touch-none rounded-sm bg-action"
          style={{ left: `${at(range[end])}%` }}
          onPointerDown={(event) => {
            event.stopPropagation();
            event.currentTarget.setPointerCapture(event.pointerId);
            dragged.current = end;
          }}
          onPointerMove={(event) => {
            if (dragged.current === end) range.onEnd(end, valueUnder(event), true);
          }}
          onPointerUp={(event) => {
            if (dragged.current === end) range.onEnd(end, valueUnder(event), false);
            dragged.current = null;
          }}
          onDoubleClick={(event) => event.stopPropagation()}
        />
      ))}
    </span>
  );
}
