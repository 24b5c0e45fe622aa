import { useRef, useState } from "react";
import type { RangeFacet } from "../../api";
import { isInside, placeOf, valueAtPlace } from "./rangeScale";

interface Props {
  label: string;
  text: (value: number) => string;
  facet: RangeFacet;
  chosen: [number | null, number | null] | undefined;
  onChange: (low: number | null, high: number | null) => void;
}

const WIDTH = 196;
const HEIGHT = 26;
const STEP = 0.04;
const rounded = (value: number) => Number(value.toFixed(4));

/** How many lie where, with two ends to drag; arrow keys move an end, Home and End let it go. */
export function RangeField({ label, text, facet, chosen, onChange }: Props) {
  const box = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ end: 0 | 1; place: number } | null>(null);
  const most = Math.max(1, ...facet.counts);
  const settled = [
    chosen?.[0] == null ? 0 : placeOf(facet, chosen[0]),
    chosen?.[1] == null ? 1 : placeOf(facet, chosen[1]),
  ] as const;
  const places = settled.map((place, end) => (drag?.end === end ? drag.place : place)) as [
    number,
    number,
  ];
  const placeAt = (event: React.PointerEvent) => {
    const bounds = box.current?.getBoundingClientRect();
    return bounds ? (event.clientX - bounds.left) / bounds.width : 0;
  };
  const put = (end: 0 | 1, place: number) => {
    const held =
      end === 0 ? Math.min(place, settled[1] - 0.01) : Math.max(place, settled[0] + 0.01);
    const value = held <= 0 && end === 0 ? null : held >= 1 && end === 1 ? null : held;
    const next = value === null ? null : valueAtPlace(facet, value);
    onChange(end === 0 ? next : (chosen?.[0] ?? null), end === 1 ? next : (chosen?.[1] ?? null));
  };
  const keys = (event: React.KeyboardEvent, end: 0 | 1) => {
    const moves: Record<string, number> = {
      ArrowLeft: settled[end] - STEP,
      ArrowRight: settled[end] + STEP,
      Home: 0,
      End: 1,
    };
    const to = moves[event.key];
    if (to === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    put(end, to);
  };
  const shown = (end: 0 | 1) => text(valueAtPlace(facet, places[end]));
  const parts = facet.counts.length;
  return (
    <fieldset>
      <legend className="flex w-full justify-between text-[11.5px]">
        <span className="font-semibold text-ink-2">{label}</span>
        {(chosen || drag) && (
          <button
            type="button"
            className="text-action"
            onClick={() => onChange(null, null)}
            aria-label={`${label}: any`}
          >
            any
          </button>
        )}
      </legend>
      <svg
        ref={box}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full touch-none"
        onPointerDown={(event) => {
          const place = placeAt(event);
          const end = Math.abs(place - places[0]) < Math.abs(place - places[1]) ? 0 : 1;
          event.currentTarget.setPointerCapture(event.pointerId);
          setDrag({ end, place });
        }}
        onPointerMove={(event) => drag && setDrag({ ...drag, place: placeAt(event) })}
        onPointerUp={() => {
          if (drag) put(drag.end, drag.place);
          setDrag(null);
        }}
      >
        {facet.counts.map((count, n) => {
          const high = count === 0 ? 0 : 3 + (count / most) * (HEIGHT - 8);
          const inside = isInside(facet, chosen, (n + 0.5) / parts);
          return (
            <rect
              key={n}
              x={(n * WIDTH) / parts}
              y={HEIGHT - 4 - high}
              width={WIDTH / parts - 1}
              height={high}
              fill={inside ? "var(--action)" : "var(--line-strong)"}
            />
          );
        })}
        <line x1={0} x2={WIDTH} y1={HEIGHT - 3} y2={HEIGHT - 3} stroke="var(--line-strong)" />
        {([0, 1] as const).map((end) => (
          <rect
            key={end}
            role="slider"
            tabIndex={0}
            aria-label={`${label} ${end === 0 ? "from" : "to"}`}
            aria-valuemin={rounded(facet.low)}
            aria-valuemax={rounded(facet.high)}
            aria-valuenow={rounded(valueAtPlace(facet, places[end]))}
            aria-valuetext={shown(end)}
            x={Math.min(WIDTH - 6, Math.max(0, places[end] * WIDTH - 3))}
            y={HEIGHT - 9}
            width={6}
            height={9}
            rx={2}
            fill="var(--ink)"
            className="cursor-ew-resize"
            onKeyDown={(event) => keys(event, end)}
          />
        ))}
      </svg>
      <p className="figure flex justify-between text-[11px] text-ink-2">
        <span>{shown(0)}</span>
        <span>{shown(1)}</span>
      </p>
    </fieldset>
  );
}
