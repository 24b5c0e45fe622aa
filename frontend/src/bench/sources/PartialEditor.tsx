import { useRef, useState } from "react";
import type { PartDeclaration, PartialSet } from "../../api";
import { PartFields } from "../parts";
import { PartialTable } from "./PartialTable";
import { StartingSets } from "./StartingSets";
import { allAmplitudes, heardAmplitude, PARTIAL_COUNT, withStroke } from "../../sound";

interface Props {
  owner: string;
  partials: PartialSet;
  declaration: PartDeclaration;
  onChange: (label: string, patch: object, how: { gesture: string; moving: boolean }) => void;
}

type Drawing = "amplitudes" | "phases";

const WIDTH = 282;
const HEIGHT = 84;
/** How many bars can be seen at once: few are wide enough to be hit one by one. */
const VIEWS = [16, 32, PARTIAL_COUNT];

/** As many as show every partial that sounds. */
function fittingView(amplitudes: number[]): number {
  const last = amplitudes.findLastIndex((level) => level > 0) + 1;
  return VIEWS.find((count) => count >= last) ?? PARTIAL_COUNT;
}

/** One cycle of what is heard. */
function cyclePath(partials: PartialSet): string {
  const terms = Array.from({ length: PARTIAL_COUNT }, (_, n) => ({
    k: n + 1,
    level: heardAmplitude(partials, n + 1),
    phase: ((partials.phases_deg[n] ?? 0) * Math.PI) / 180,
  })).filter(({ level }) => level > 0);
  const points = Array.from({ length: 141 }, (_, n) =>
    terms.reduce(
      (sum, { k, level, phase }) => sum + level * Math.sin((2 * Math.PI * k * n) / 140 + phase),
      0,
    ),
  );
  const loudest = Math.max(1e-6, ...points.map(Math.abs));
  return points
    .map(
      (value, n) =>
        `${n === 0 ? "M" : "L"}${((n / 140) * WIDTH).toFixed(1)} ${(22 - (value / loudest) * 19).toFixed(1)}`,
    )
    .join("");
}

/** 64 bars drawn by dragging across, the cycle they make, and sets to start from. */
export function PartialEditor({ owner, partials, declaration, onChange }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const last = useRef<{ bar: number; level: number; gesture: string } | null>(null);
  const [bar, setBar] = useState(0);
  const [drawing, setDrawing] = useState<Drawing>("amplitudes");
  const [view, setView] = useState<number | null>(null);
  const [typed, setTyped] = useState(false);
  const count = view ?? fittingView(partials.amplitudes);
  const barWidth = WIDTH / count;
  const phases = drawing === "phases";
  /** What the bars show, 0 to 1: an amplitude, or a phase as a part of the cycle. */
  const values = phases
    ? allAmplitudes({ ...partials, amplitudes: partials.phases_deg.map((deg) => deg / 360) })
    : allAmplitudes(partials);
  const patchOf = (drawn: number[]) =>
    phases
      ? { phases_deg: drawn.map((part) => Math.round(part * 3600) / 10) }
      : { amplitudes: drawn };
  const written = (value: number) =>
    phases ? `${Math.round(value * 360)}°` : `${Math.round(value * 100)} %`;

  const heard = (n: number, level: number) =>
    phases ? level : Math.min(1, heardAmplitude(partials, n + 1));

  const placeOf = (event: React.PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return null;
    const at = Math.floor(((event.clientX - box.left) / box.width) * count);
    return {
      bar: Math.min(count - 1, Math.max(0, at)),
      level: Math.min(1, Math.max(0, 1 - (event.clientY - box.top) / box.height)),
    };
  };
  const draw = (event: React.PointerEvent, moving: boolean) => {
    const place = placeOf(event);
    const from = last.current;
    if (!place || !from) return;
    last.current = { ...place, gesture: from.gesture };
    setBar(place.bar);
    const drawn = withStroke(values, from, place);
    onChange(`${owner}: ${phases ? "phases" : "partials"} drawn`, patchOf(drawn), {
      gesture: from.gesture,
      moving,
    });
  };
  const nudge = (event: React.KeyboardEvent) => {
    const sideways = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const upward = { ArrowUp: 0.02, ArrowDown: -0.02 }[event.key];
    if (sideways === undefined && upward === undefined) return;
    event.preventDefault();
    if (sideways !== undefined) setBar(Math.min(count - 1, Math.max(0, bar + sideways)));
    if (upward === undefined) return;
    const level = (values[bar] ?? 0) + upward * (event.shiftKey ? 5 : 1);
    const drawn = withStroke(values, { bar, level }, { bar, level });
    onChange(`${owner}: ${phases ? "phase of " : ""}partial ${bar + 1}`, patchOf(drawn), {
      gesture: `partial-${bar}`,
      moving: false,
    });
  };

  return (
    <div className="mb-1">
      <svg
        viewBox={`0 0 ${WIDTH} 44`}
        className="mb-1 w-full rounded-control border border-line bg-sheet"
        aria-hidden
      >
        <path d={cyclePath(partials)} fill="none" stroke="var(--ink)" strokeWidth={1.4} />
      </svg>
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        tabIndex={0}
        role="slider"
        aria-label={phases ? "Phases of the partials" : "Partials"}
        aria-valuenow={Math.round((values[bar] ?? 0) * 100)}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuetext={`Partial ${bar + 1}: ${written(values[bar] ?? 0)}`}
        className="w-full cursor-crosshair touch-none rounded-control border border-line bg-sheet"
        onKeyDown={nudge}
        onPointerDown={(event) => {
          const place = placeOf(event);
          if (!place || event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          last.current = { ...place, gesture: `partials@${event.timeStamp}` };
          draw(event, true);
        }}
        onPointerMove={(event) => draw(event, true)}
        onPointerUp={(event) => {
          draw(event, false);
          last.current = null;
        }}
      >
        {values.slice(0, count).map((level, n) => (
          <g key={n}>
            <rect
              x={n * barWidth + 0.5}
              width={barWidth - 1}
              y={HEIGHT * (1 - level)}
              height={HEIGHT * level}
              fill="var(--line-strong)"
            />
            <rect
              x={n * barWidth + 0.5}
              width={barWidth - 1}
              y={HEIGHT * (1 - heard(n, level))}
              height={HEIGHT * heard(n, level)}
              fill={n === bar ? "var(--action)" : "var(--ink)"}
            />
          </g>
        ))}
      </svg>
      <div className="mt-1 flex items-center justify-between gap-2 text-[12px]">
        <select
          aria-label="Bars show"
          className="h-6 rounded-sm border border-line-strong bg-sheet px-1"
          value={drawing}
          onChange={(event) =>
            setDrawing(event.target.value === "phases" ? "phases" : "amplitudes")
          }
        >
          <option value="amplitudes">Amplitudes</option>
          <option value="phases">Phases</option>
        </select>
        <StartingSets owner={owner} partials={partials} onChange={onChange} />
        <span className="figure text-[11px] whitespace-nowrap text-ink-2">
          {bar + 1}: {written(values[bar] ?? 0)}
        </span>
      </div>
      <div className="mt-1 flex items-center justify-between text-[12px]">
        <select
          aria-label="Partials seen"
          className="h-6 rounded-sm border border-line-strong bg-sheet px-1"
          value={count}
          onChange={(event) => setView(Number(event.target.value))}
        >
          {VIEWS.map((one) => (
            <option key={one} value={one}>
              1–{one}
            </option>
          ))}
        </select>
        <button
          type="button"
          aria-expanded={typed}
          className="min-h-6 rounded-sm px-1 text-[12px] text-action hover:bg-band"
          onClick={() => setTyped(!typed)}
        >
          {typed ? "Hide numbers" : "Type numbers"}
        </button>
      </div>
      {typed && (
        <PartialTable
          amplitudes={allAmplitudes(partials).slice(0, count)}
          phases={partials.phases_deg}
          onAmplitude={(partial, value) =>
            onChange(
              `${owner}: partial ${partial + 1}`,
              {
                amplitudes: allAmplitudes(partials).map((own, n) => (n === partial ? value : own)),
              },
              { gesture: `partial-${partial}`, moving: false },
            )
          }
          onPhase={(partial, degrees) =>
            onChange(
              `${owner}: phase of partial ${partial + 1}`,
              {
                phases_deg: Array.from({ length: PARTIAL_COUNT }, (_, n) =>
                  n === partial ? degrees : (partials.phases_deg[n] ?? 0),
                ),
              },
              { gesture: `phase-${partial}`, moving: false },
            )
          }
        />
      )}
      <PartFields
        owner={`${owner}, partials`}
        declaration={declaration}
        part={partials}
        onChange={onChange}
      />
    </div>
  );
}
