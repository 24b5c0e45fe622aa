import { useRef } from "react";
import { withProcessor, edit } from "../../../sound";
import type { Drive } from "../picture";

const SIZE = 200;
const MOST_POINTS = 16;
const held = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));
const round = (value: number) => Math.round(value * 1000) / 1000;
const MARGIN = 10;
const REACH = SIZE - 2 * MARGIN;
const xOf = (x: number) => MARGIN + ((x + 1) / 2) * REACH;
const yOf = (y: number) => MARGIN + ((1 - y) / 2) * REACH;

type Points = Drive["drawn"];

function change(part: Drive, points: Points, words: string, moving = false) {
  edit(
    `Drive: ${words}`,
    (sound) =>
      withProcessor(sound, part.id, (now) =>
        now.kind === "drive" ? { ...now, drawn: points } : now,
      ),
    { gesture: `${part.id}.drawn`, moving },
  );
}

/** A point between its neighbours, ends at the ends. */
function movedTo(points: Points, index: number, x: number, y: number): Points {
  const before = points[index - 1]?.x ?? -1.01;
  const after = points[index + 1]?.x ?? 1.01;
  const at = {
    x: round(held(x, Math.max(-1, before + 0.01), Math.min(1, after - 0.01))),
    y: round(held(y, -1, 1)),
  };
  return points.map((point, n) => (n === index ? at : point));
}

/** The drawn transfer curve by hand: points are dragged, added by double click, taken by Delete. */
export function DrawnTransfer({ part }: { part: Drive }) {
  const svg = useRef<SVGSVGElement>(null);
  const points = part.drawn;
  const place = (event: React.PointerEvent | React.MouseEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    return {
      x: held(((event.clientX - box.left - MARGIN) / REACH) * 2 - 1, -1, 1),
      y: held(1 - ((event.clientY - box.top - MARGIN) / REACH) * 2, -1, 1),
    };
  };
  const add = (event: React.MouseEvent) => {
    if (points.length >= MOST_POINTS) return;
    const { x, y } = place(event);
    const near = points.some((point) => Math.abs(point.x - x) < 0.01);
    if (near) return;
    const next = [...points, { x: round(x), y: round(y) }].sort((a, b) => a.x - b.x);
    change(part, next, "point of the curve added");
  };
  const key = (index: number, event: React.KeyboardEvent) => {
    const step = event.altKey ? 0.002 : event.shiftKey ? 0.1 : 0.02;
    const point = points[index];
    if (!point) return;
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    const by = steps[event.key];
    if (by)
      change(
        part,
        movedTo(points, index, point.x + by[0], point.y + by[1]),
        "point of the curve moved",
      );
    else if (event.key === "Delete" && points.length > 2)
      change(
        part,
        points.filter((_, n) => n !== index),
        "point of the curve removed",
      );
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      className="mx-auto mt-2 block touch-none rounded-control border border-line bg-sheet"
      style={{ width: SIZE, height: SIZE }}
      onDoubleClick={add}
      role="group"
      aria-label="Transfer curve; double click adds a point"
    >
      <line x1={0} x2={SIZE} y1={SIZE / 2} y2={SIZE / 2} stroke="var(--line-strong)" />
      <line x1={SIZE / 2} x2={SIZE / 2} y1={0} y2={SIZE} stroke="var(--line-strong)" />
      <path
        d={`M${[...points].map(({ x, y }) => `${xOf(x)} ${yOf(y)}`).join("L")}`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.6}
      />
      {points.map((point, index) => (
        <circle
          key={index}
          cx={xOf(point.x)}
          cy={yOf(point.y)}
          r={6}
          tabIndex={0}
          role="slider"
          aria-label={`Point ${index + 1} of the transfer curve`}
          aria-valuenow={point.y}
          aria-valuetext={`in ${point.x}, out ${point.y}`}
          className="cursor-grab"
          fill="var(--sheet)"
          stroke="var(--ink)"
          onKeyDown={(event) => key(index, event)}
          onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
          onPointerMove={(event) => {
            if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
            const { x, y } = place(event);
            change(part, movedTo(points, index, x, y), "point of the curve moved", true);
          }}
          onPointerUp={(event) => {
            const { x, y } = place(event);
            change(part, movedTo(points, index, x, y), "point of the curve moved");
          }}
          onDoubleClick={(event) => event.stopPropagation()}
        />
      ))}
    </svg>
  );
}
