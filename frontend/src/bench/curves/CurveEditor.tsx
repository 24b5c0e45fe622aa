import { useRef, useState } from "react";
import type { Curve } from "../../api";
import { formatValue, type TimeScale } from "../../ui";
import {
  CURVE_KINDS,
  useBench,
  curveOutline,
  type PointAddress,
  pointsOnRuler,
  curveKey,
  type CurveRef,
} from "../../sound";
import { curveAxis } from "./curveAxis";
import { HoldMark, PitchLines, pitchWords, ZeroLine } from "./CurveLines";
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

/** A target of 24 pixels, for a hand that is not steady. */
const TARGET_RADIUS = 12;

const pathOf = (points: [number, number][]) =>
  points.map(([x, y], n) => `${n === 0 ? "M" : "L"}${x.toFixed(2)} ${y.toFixed(2)}`).join("");

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
  const { label } = CURVE_KINDS[curveRef.name];
  /** Where targets overlap, the point that is meant. */
  const nearestTo = (event: React.PointerEvent): PointAddress | undefined => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return undefined;
    const far = ({ timeS, point }: (typeof points)[number]) =>
      Math.hypot(
        x(timeS) - (event.clientX - box.left),
        axis.y(point.value) - (event.clientY - box.top),
      );
    return points.reduce<(typeof points)[number] | undefined>(
      (best, one) => (best && far(best) <= far(one) ? best : one),
      undefined,
    )?.address;
  };
  return (
    <svg
      ref={svg}
      width={scale.width}
      height={height}
      className="absolute inset-0 touch-none"
      role="group"
      aria-label={`${label} curve of ${owner}`}
      onPointerDown={gestures.startFrame}
      onDoubleClick={gestures.addPoint}
    >
      {curveRef.name === "pitch" && <PitchLines axis={axis} width={scale.width} baseHz={baseHz} />}
      {curveRef.name === "mover" && <ZeroLine axis={axis} width={scale.width} />}
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
        const place = { cx: x(timeS), cy: axis.y(point.value) };
        return (
          <g key={`${address.part}${address.index}`}>
            <circle
              {...place}
              r={taken ? 5 : 4.2}
              fill={taken ? colour : "var(--sheet)"}
              stroke={colour}
              strokeWidth={1.8}
              className="pointer-events-none"
            />
            <circle
              {...place}
              r={TARGET_RADIUS}
              tabIndex={0}
              role="button"
              aria-pressed={taken}
              data-point={`${address.part}-${address.index}`}
              aria-label={`Point ${address.index + 1}${address.part === "release" ? " of the release" : ""}: ${formatValue(point.time_s, "s")}, ${axis.format(point.value)}`}
              fill="transparent"
              className="cursor-move"
              onPointerDown={(event) => gestures.startDrag(event, nearestTo(event) ?? address)}
              onKeyDown={(event) => gestures.pointKey(event, address)}
              onFocus={() => setReadout({ address, bend: false })}
              onBlur={() => setReadout(null)}
              onPointerEnter={() => setReadout({ address, bend: false })}
              onPointerLeave={(event) => event.buttons === 0 && setReadout(null)}
            />
          </g>
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
              : `${formatValue(read.timeS, "s")}  ${axis.format(read.point.value)}${baseHz === null || curveRef.name !== "pitch" ? "" : `  ${pitchWords(baseHz, read.point.value)}`}`
          }
        />
      )}
    </svg>
  );
}

const NONE: PointAddress[] = [];
