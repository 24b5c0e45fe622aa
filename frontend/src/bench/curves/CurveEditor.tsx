import { useRef, useState } from "react";
import type { Curve } from "../../api";
import { hzToNote, noteName, formatValue, type TimeScale } from "../../ui";
import {
  useBench,
  curveOutline,
  type PointAddress,
  pointsOnRuler,
  curveKey,
  type CurveRef,
} from "../../sound";
import { curveAxis } from "./curveAxis";
import { sameAddress } from "./curveTools";
import { Readout } from "./Readout";
import { useCurveGestures } from "./useCurveGestures";

interface Props {
  curveRef: CurveRef;
  curve: Curve;
  /** What the curve belongs to, for those who cannot see it: "Body". */
  owner: string;
  /** When the curve begins, in seconds from the start of the hit. */
  delayS: number;
  colour: string;
  scale: TimeScale;
  height: number;
  /** Pitch in Hz at 0 st, where the curve moves a known pitch. */
  baseHz: number | null;
}

const pathOf = (points: [number, number][]) =>
  points.map(([x, y], n) => `${n === 0 ? "M" : "L"}${x.toFixed(2)} ${y.toFixed(2)}`).join("");

const pitchWords = (baseHz: number, st: number) => {
  const hz = baseHz * 2 ** (st / 12);
  const note = Math.round(hzToNote(hz));
  return `${formatValue(hz, "Hz")}${note >= 0 && note <= 127 ? ` ${noteName(note)}` : ""}`;
};

/** The selected curve over its lane: points to drag, ways to bend, several taken by a frame. */
export function CurveEditor(props: Props) {
  const { curveRef, curve, owner, delayS, colour, scale, height, baseHz } = props;
  const key = curveKey(curveRef);
  const holdS = useBench((state) => Math.max(0, (state.document?.hit.hold_s ?? 0) - delayS));
  const inHand = useBench((state) => (state.points?.key === key ? state.points.addresses : NONE));
  const [heldRange, setHeldRange] = useState<[number, number] | null>(null);
  const [readout, setReadout] = useState<{ address: PointAddress; bend: boolean } | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const axis = curveAxis(curve, curveRef.name, height, heldRange);
  const gestures = useCurveGestures({
    curveRef,
    curve,
    delayS,
    holdS,
    scale,
    axis,
    inHand,
    svg,
    setHeldRange,
    setReadout,
  });
  const x = (timeS: number) => scale.x(timeS + delayS);
  const line = curveOutline(curve, holdS, scale.endS).flatMap(({ timeS, value }, n, all) => {
    const before = all[n - 1];
    const here: [number, number] = [x(timeS), axis.y(value)];
    // On a stretched ruler a straight way is drawn bent, so it needs corners of its own.
    if (scale.shape === "even" || !before || timeS - before.timeS < 1e-6) return [here];
    return Array.from({ length: 8 }, (_, k): [number, number] => {
      const part = (k + 1) / 8;
      const at = before.timeS + (timeS - before.timeS) * part;
      return [x(at), axis.y(before.value + (value - before.value) * part)];
    });
  });
  const points = pointsOnRuler(curve, holdS);
  const read = readout && points.find(({ address }) => sameAddress(address, readout.address));
  const name = curveRef.name === "level" ? "Level" : "Pitch";
  return (
    <svg
      ref={svg}
      width={scale.width}
      height={height}
      className="absolute inset-0 touch-none"
      role="group"
      aria-label={`${name} curve of ${owner}`}
      onPointerDown={gestures.startFrame}
      onDoubleClick={gestures.addPoint}
    >
      {curveRef.name === "pitch" && <PitchLines axis={axis} width={scale.width} baseHz={baseHz} />}
      <HoldMark curve={curve} x={x} holdS={holdS} height={height} />
      <path
        d={pathOf(line)}
        fill="none"
        stroke={colour}
        strokeWidth={1.8}
        className="pointer-events-none"
      />
      {points.map(({ address, timeS }, n) => {
        const before = points[n - 1];
        const end = { x: x(timeS), y: axis.y(points[n]?.point.value ?? 0) };
        const from =
          address.part === "release" && address.index === 0
            ? { x: x(holdS), y: end.y }
            : before && { x: x(before.timeS), y: axis.y(before.point.value) };
        if (!from || end.x - from.x < 12) return null;
        return (
          <path
            key={`way-${address.part}${address.index}`}
            d={`M${from.x + 5} ${from.y}L${end.x - 5} ${end.y}`}
            stroke="transparent"
            strokeWidth={12}
            className="cursor-ns-resize"
            onPointerDown={(event) => gestures.startBend(event, address)}
          />
        );
      })}
      {points.map(({ address, timeS, point }) => {
        const taken = inHand.some((one) => sameAddress(one, address));
        return (
          <circle
            key={`${address.part}${address.index}`}
            cx={x(timeS)}
            cy={axis.y(point.value)}
            r={taken ? 5 : 4.2}
            tabIndex={0}
            role="button"
            aria-pressed={taken}
            data-point={`${address.part}-${address.index}`}
            aria-label={`Point ${address.index + 1}${address.part === "release" ? " of the release" : ""}: ${formatValue(point.time_s, "s")}, ${axis.format(point.value)}`}
            fill={taken ? colour : "var(--sheet)"}
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
        );
      })}
      {gestures.frame && (
        <rect
          {...gestures.frame}
          fill="var(--action)"
          fillOpacity={0.12}
          stroke="var(--action)"
          strokeDasharray="3 2"
          className="pointer-events-none"
        />
      )}
      {read && (
        <Readout
          x={x(read.timeS)}
          y={axis.y(read.point.value)}
          width={scale.width}
          text={
            readout?.bend
              ? `bend ${formatValue(read.point.bend, "")}`
              : `${formatValue(read.timeS, "s")}  ${axis.format(read.point.value)}${baseHz === null || curveRef.name === "level" ? "" : `  ${pitchWords(baseHz, read.point.value)}`}`
          }
        />
      )}
    </svg>
  );
}

const NONE: PointAddress[] = [];

interface HoldMarkProps {
  curve: Curve;
  x: (timeS: number) => number;
  holdS: number;
  height: number;
}

/** The end of the hold where the curve has a release part, and the loop while held. */
function HoldMark({ curve, x, holdS, height }: HoldMarkProps) {
  const loop = curve.loop && {
    from: curve.points[curve.loop.start]?.time_s ?? 0,
    to: curve.points[curve.loop.end]?.time_s ?? 0,
  };
  return (
    <g className="pointer-events-none">
      {loop && (
        <>
          <rect
            x={x(loop.from)}
            width={Math.max(1, x(loop.to) - x(loop.from))}
            y={0}
            height={height}
            fill="var(--action)"
            opacity={0.08}
          />
          <text x={x(loop.from) + 3} y={10} fontSize={10} fill="var(--ink-2)">
            loop
          </text>
        </>
      )}
      {curve.release.length > 0 && (
        <>
          <line
            x1={x(holdS)}
            x2={x(holdS)}
            y1={0}
            y2={height}
            stroke="var(--action)"
            strokeDasharray="1 3"
          />
          <text x={x(holdS) + 3} y={10} fontSize={10} fill="var(--ink-2)">
            release
          </text>
        </>
      )}
    </g>
  );
}

interface PitchLinesProps {
  axis: ReturnType<typeof curveAxis>;
  width: number;
  baseHz: number | null;
}

/** Lines each octave from the layer's own pitch, with what they are in Hz. */
function PitchLines({ axis, width, baseHz }: PitchLinesProps) {
  const step = axis.high - axis.low > 60 ? 24 : 12;
  const lines: number[] = [];
  for (let st = Math.ceil(axis.low / step) * step; st <= axis.high; st += step) lines.push(st);
  return (
    <g className="pointer-events-none">
      {lines.map((st) => (
        <g key={st}>
          <line
            x1={0}
            x2={width}
            y1={axis.y(st)}
            y2={axis.y(st)}
            stroke="var(--line-strong)"
            strokeDasharray={st === 0 ? undefined : "2 4"}
          />
          <text
            x={width - 6}
            y={axis.y(st) - 3}
            textAnchor="end"
            fontSize={10}
            fill="var(--ink-2)"
            fontFamily="var(--font-mono)"
          >
            {formatValue(st, "st")}
            {baseHz === null ? "" : ` ${pitchWords(baseHz, st)}`}
          </text>
        </g>
      ))}
    </g>
  );
}
