import { useRef, useState } from "react";
import type { Layer } from "../api/types";
import { PIGMENTS } from "../ui/pigments";
import type { TimeScale } from "../ui/timeScale";
import { formatValue } from "../ui/units";
import { curveAxis } from "./curveAxis";
import { curveOutline, type PointAddress, pointsOnRuler } from "./curveEdits";
import type { CurveName } from "./store";
import { useBench } from "./store";
import { useCurveGestures } from "./useCurveGestures";

interface Props {
  layer: Layer;
  curveName: CurveName;
  scale: TimeScale;
  height: number;
}

const LABELS: Record<CurveName, string> = { level: "Level", pitch: "Pitch" };

const pathOf = (points: [number, number][]) =>
  points.map(([x, y], n) => `${n === 0 ? "M" : "L"}${x.toFixed(2)} ${y.toFixed(2)}`).join("");

/** The curve in hand over the lane: points to drag, segments to bend, the other curve dashed. */
export function CurveEditor({ layer, curveName, scale, height }: Props) {
  const holdS = useBench((state) => Math.max(0, (state.document?.hit.hold_s ?? 0) - layer.delay_s));
  const [heldRange, setHeldRange] = useState<[number, number] | null>(null);
  const [readout, setReadout] = useState<{ address: PointAddress; bend: boolean } | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const curve = layer[curveName];
  const axis = curveAxis(layer, curveName, height, heldRange);
  const { colour } = PIGMENTS[layer.pigment];
  const gestures = useCurveGestures({
    layer,
    curveName,
    scale,
    axis,
    holdS,
    svg,
    setHeldRange,
    setReadout,
  });

  const shifted = (timeS: number) => scale.x(timeS + layer.delay_s);
  const line = curveOutline(curve, holdS, scale.endS).map(({ timeS, value }): [number, number] => [
    shifted(timeS),
    axis.y(value),
  ]);
  const points = pointsOnRuler(curve, holdS);
  const read = points.find(
    ({ address }) =>
      address.part === readout?.address.part && address.index === readout.address.index,
  );
  return (
    <svg
      ref={svg}
      width={scale.width}
      height={height}
      className="absolute inset-0 touch-none"
      role="group"
      aria-label={`${LABELS[curveName]} curve of ${layer.name}`}
      onPointerDown={gestures.selectLane}
      onDoubleClick={gestures.addPoint}
    >
      {curveName === "pitch" && (
        <line
          x1={0}
          x2={scale.width}
          y1={axis.y(0)}
          y2={axis.y(0)}
          stroke="var(--line-strong)"
          strokeDasharray="2 4"
        />
      )}
      {curve.release.length > 0 && (
        <line
          x1={shifted(holdS)}
          x2={shifted(holdS)}
          y1={0}
          y2={height}
          stroke="var(--action)"
          strokeWidth={1}
          strokeDasharray="1 3"
        />
      )}
      <OtherCurve layer={layer} curveName={curveName} scale={scale} height={height} holdS={holdS} />
      <path
        d={pathOf(line)}
        fill="none"
        stroke={colour}
        strokeWidth={1.8}
        className="pointer-events-none"
      />
      {points.map(({ address, timeS, point }, n) => {
        const from = points[n - 1];
        if (!from && address.part === "points") return null;
        const startS = from?.timeS ?? holdS;
        const startValue = from?.point.value ?? 0;
        return (
          <line
            key={`${address.part}${address.index}`}
            x1={shifted(startS)}
            y1={axis.y(startValue)}
            x2={shifted(timeS)}
            y2={axis.y(point.value)}
            stroke="transparent"
            strokeWidth={14}
            className="cursor-ns-resize"
            onPointerDown={(event) => gestures.startBend(event, address)}
          />
        );
      })}
      {points.map(({ address, timeS, point }) => (
        <circle
          key={`${address.part}${address.index}`}
          cx={shifted(timeS)}
          cy={axis.y(point.value)}
          r={4.2}
          tabIndex={0}
          role="button"
          data-point={`${address.part}-${address.index}`}
          aria-label={`Point ${address.index + 1}${address.part === "release" ? " of the release" : ""}: ${formatValue(point.time_s, "s")}, ${axis.format(point.value)}`}
          fill="var(--sheet)"
          stroke={colour}
          strokeWidth={1.8}
          className="cursor-move outline-offset-2"
          onPointerDown={(event) => gestures.startDrag(event, address)}
          onKeyDown={(event) => gestures.pointKey(event, address)}
          onFocus={() => setReadout({ address, bend: false })}
          onBlur={() => setReadout(null)}
          onPointerEnter={() => setReadout({ address, bend: false })}
          onPointerLeave={(event) => event.buttons === 0 && setReadout(null)}
        />
      ))}
      {read && (
        <Readout
          x={shifted(read.timeS)}
          y={axis.y(read.point.value)}
          width={scale.width}
          text={
            readout?.bend
              ? `bend ${formatValue(read.point.bend, "")}`
              : `${formatValue(read.timeS, "s")}  ${axis.format(read.point.value)}`
          }
        />
      )}
    </svg>
  );
}

interface ReadoutProps {
  x: number;
  y: number;
  width: number;
  text: string;
}

function Readout({ x, y, width, text }: ReadoutProps) {
  const boxWidth = text.length * 6.7 + 10;
  const left = Math.min(Math.max(2, x + 9), Math.max(2, width - boxWidth - 2));
  const top = y > 30 ? y - 25 : y + 9;
  return (
    <g className="pointer-events-none" transform={`translate(${left} ${top})`}>
      <rect width={boxWidth} height={17} rx={3} fill="var(--ink)" />
      <text
        x={5}
        y={12.2}
        fill="var(--sheet)"
        fontSize={11}
        fontFamily="var(--font-mono)"
        xmlSpace="preserve"
      >
        {text}
      </text>
    </g>
  );
}

function OtherCurve({ layer, curveName, scale, height, holdS }: Props & { holdS: number }) {
  const other: CurveName = curveName === "level" ? "pitch" : "level";
  if (layer.source.kind === "noise") return null;
  const axis = curveAxis(layer, other, height, null);
  const line = curveOutline(layer[other], holdS, scale.endS).map(
    ({ timeS, value }): [number, number] => [scale.x(timeS + layer.delay_s), axis.y(value)],
  );
  return (
    <path
      d={pathOf(line)}
      fill="none"
      stroke={PIGMENTS[layer.pigment].colour}
      strokeWidth={1.2}
      strokeDasharray="4 3"
      opacity={0.55}
      className="pointer-events-none"
    />
  );
}
