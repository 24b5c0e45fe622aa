import { ticks, type TimeScale } from "../../ui";
import { gridSeconds, useRuler } from "../parts";
import { useBench } from "../../sound";

const CLOSEST_PIXELS = 7;

/** Upright hairlines: the grid that points snap to where it is wide enough, else the ruler's marks. */
export function GridLines({ scale, height }: { scale: TimeScale; height: number }) {
  const tempoBpm = useBench((state) => state.document?.tempo_bpm ?? 120);
  const { grid, unit } = useRuler();
  const gridS = gridSeconds(grid, tempoBpm);
  const wide = gridS !== null && scale.x(scale.endS) - scale.x(scale.endS - gridS) > CLOSEST_PIXELS;
  const times: number[] = [];
  if (gridS !== null && wide)
    for (let n = Math.ceil(scale.startS / gridS); n * gridS <= scale.endS; n++)
      times.push(n * gridS);
  else
    times.push(...ticks(scale, unit === "beats" ? 60 / tempoBpm : null).map(({ timeS }) => timeS));
  const d = times.map((timeS) => `M${scale.x(timeS).toFixed(1)} 0V${height}`).join("");
  return (
    <svg
      width={scale.width}
      height={height}
      aria-hidden
      className="pointer-events-none absolute inset-0"
    >
      <path d={d} stroke="var(--line)" strokeWidth={1} />
    </svg>
  );
}
