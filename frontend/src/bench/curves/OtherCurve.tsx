import type { Layer } from "../../api";
import { PIGMENTS, type TimeScale } from "../../ui";
import { isPitched, useBench, curveOutline, type LayerCurve } from "../../sound";
import { curveAxis } from "./curveAxis";

interface Props {
  layer: Layer;
  curveName: LayerCurve;
  scale: TimeScale;
  height: number;
}

const lineThrough = (points: [number, number][]) =>
  points.map(([x, y], n) => `${n === 0 ? "M" : "L"}${x.toFixed(1)} ${y.toFixed(1)}`).join("");

/** Behind the selected curve: the other one dashed, and the pitch that was really reached. */
export function OtherCurve({ layer, curveName, scale, height }: Props) {
  const holdS = useBench((state) => Math.max(0, (state.document?.hit.hold_s ?? 0) - layer.delay_s));
  const track = useBench((state) => state.details?.layers[layer.id]?.track);
  const other: LayerCurve = curveName === "level" ? "pitch" : "level";
  if (!isPitched(layer.source)) return null;
  const axis = curveAxis(layer[other], other, height, null);
  const line = curveOutline(layer[other], holdS, scale.endS).map(
    ({ timeS, value }): [number, number] => [scale.x(timeS + layer.delay_s), axis.y(value)],
  );
  const pitchAxis = curveAxis(layer.pitch, "pitch", height, null);
  return (
    <svg
      width={scale.width}
      height={height}
      aria-hidden
      className="pointer-events-none absolute inset-0"
    >
      <path
        d={lineThrough(line)}
        fill="none"
        stroke={PIGMENTS[layer.pigment].colour}
        strokeWidth={1.2}
        strokeDasharray="4 3"
        opacity={0.55}
      />
      {curveName === "pitch" &&
        track?.map(([timeS = 0, st = 0]) => (
          <circle
            key={timeS}
            cx={scale.x(timeS)}
            cy={pitchAxis.y(st)}
            r={1.3}
            fill="var(--ink)"
            opacity={0.75}
          />
        ))}
    </svg>
  );
}
