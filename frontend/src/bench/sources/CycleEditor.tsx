import { useRef } from "react";

interface CycleEditorProps {
  levels: number[];
  onDraw: (levels: number[], gesture: string, moving: boolean) => void;
}

/** One cycle that is drawn on. */
export function CycleEditor({ levels, onDraw }: CycleEditorProps) {
  const svg = useRef<SVGSVGElement>(null);
  const last = useRef<{ at: number; value: number; gesture: string } | null>(null);
  const place = (event: React.PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return null;
    const at = Math.floor(((event.clientX - box.left) / box.width) * levels.length);
    return {
      at: Math.min(levels.length - 1, Math.max(0, at)),
      value: Math.min(1, Math.max(-1, 1 - (2 * (event.clientY - box.top)) / box.height)),
    };
  };
  const draw = (event: React.PointerEvent, moving: boolean) => {
    const here = place(event);
    const from = last.current;
    if (!here || !from) return;
    const next = levels.slice();
    const steps = Math.max(1, Math.abs(here.at - from.at));
    for (let k = 0; k <= steps; k++)
      next[Math.round(from.at + ((here.at - from.at) * k) / steps)] =
        from.value + ((here.value - from.value) * k) / steps;
    last.current = { ...here, gesture: from.gesture };
    onDraw(
      next.map((one) => Math.round(one * 1000) / 1000),
      from.gesture,
      moving,
    );
  };
  const line = levels.map(
    (one, n) => `${((n / levels.length) * 282).toFixed(1)},${(36 - one * 33).toFixed(1)}`,
  );
  return (
    <svg
      ref={svg}
      viewBox="0 0 282 72"
      role="img"
      aria-label="One cycle; draw on it"
      className="w-full cursor-crosshair touch-none rounded-control border border-line bg-sheet"
      onPointerDown={(event) => {
        const here = place(event);
        if (!here || event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        last.current = { ...here, gesture: `cycle@${event.timeStamp}` };
        draw(event, true);
      }}
      onPointerMove={(event) => draw(event, true)}
      onPointerUp={(event) => {
        draw(event, false);
        last.current = null;
      }}
    >
      <line x1={0} x2={282} y1={36} y2={36} stroke="var(--line)" />
      <polyline points={line.join(" ")} fill="none" stroke="var(--ink)" strokeWidth={1.4} />
    </svg>
  );
}
