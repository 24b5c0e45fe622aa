import { Minus, Plus } from "lucide-react";
import { useRef, useState } from "react";

interface Props {
  values: number[];
  /** The least a step can be: -1, or 0 for bars that only go up. */
  lowest?: -1 | 0;
  onChange: (values: number[], how: { gesture: string; moving: boolean }) => void;
}

const WIDTH = 282;
const HEIGHT = 64;
const MOST = 64;

/** Steps as bars around 0, drawn by dragging across or set by keys. */
export function StepBars({ values, lowest = -1, onChange }: Props) {
  const gesture = useRef<string | null>(null);
  const [step, setStep] = useState(0);
  const width = WIDTH / values.length;
  const zero = lowest === 0 ? HEIGHT : HEIGHT / 2;
  const draw = (event: React.PointerEvent, moving: boolean) => {
    if (!gesture.current) return;
    const box = event.currentTarget.getBoundingClientRect();
    const at = Math.floor(((event.clientX - box.left) / box.width) * values.length);
    const place = Math.min(values.length - 1, Math.max(0, at));
    const level = 1 - ((1 - lowest) * (event.clientY - box.top)) / box.height;
    const value = Math.round(Math.min(1, Math.max(lowest, level)) * 100) / 100;
    setStep(place);
    onChange(
      values.map((own, n) => (n === place ? value : own)),
      { gesture: gesture.current, moving },
    );
  };
  const nudge = (event: React.KeyboardEvent) => {
    const sideways = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const upward = { ArrowUp: 0.05, ArrowDown: -0.05 }[event.key];
    if (sideways === undefined && upward === undefined) return;
    event.preventDefault();
    if (sideways !== undefined)
      return setStep(Math.min(values.length - 1, Math.max(0, step + sideways)));
    const now = values[step] ?? 0;
    const value = Math.round(Math.min(1, Math.max(lowest, now + (upward ?? 0))) * 100) / 100;
    onChange(
      values.map((own, n) => (n === step ? value : own)),
      { gesture: `step-${step}`, moving: false },
    );
  };
  const resize = (count: number) =>
    onChange(
      Array.from({ length: count }, (_, n) => values[n] ?? 0),
      { gesture: "count", moving: false },
    );
  const button = "grid size-6 place-items-center rounded-sm hover:bg-band disabled:opacity-30";
  return (
    <div className="mb-1">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="slider"
        tabIndex={0}
        aria-label="Steps"
        aria-valuemin={lowest * 100}
        aria-valuemax={100}
        aria-valuenow={Math.round((values[step] ?? 0) * 100)}
        aria-valuetext={`Step ${step + 1}: ${Math.round((values[step] ?? 0) * 100)} %`}
        className="w-full cursor-crosshair touch-none rounded-control border border-line bg-sheet"
        onKeyDown={nudge}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          gesture.current = `steps@${event.timeStamp}`;
          draw(event, true);
        }}
        onPointerMove={(event) => draw(event, true)}
        onPointerUp={(event) => {
          draw(event, false);
          gesture.current = null;
        }}
      >
        <line x1={0} x2={WIDTH} y1={zero} y2={zero} stroke="var(--line-strong)" />
        {values.map((value, n) => (
          <rect
            key={n}
            x={n * width + 1}
            width={Math.max(1, width - 2)}
            y={zero - Math.max(0, value) * zero}
            height={Math.max(1, Math.abs(value) * zero)}
            fill={n === step ? "var(--action)" : "var(--ink)"}
          />
        ))}
      </svg>
      <div className="flex items-center justify-end gap-1 text-[12px] text-ink-2">
        {values.length} steps
        <button
          type="button"
          aria-label="Remove a step"
          className={button}
          disabled={values.length <= 1}
          onClick={() => resize(values.length - 1)}
        >
          <Minus size={12} aria-hidden />
        </button>
        <button
          type="button"
          aria-label="Add a step"
          className={button}
          disabled={values.length >= MOST}
          onClick={() => resize(values.length + 1)}
        >
          <Plus size={12} aria-hidden />
        </button>
      </div>
    </div>
  );
}
