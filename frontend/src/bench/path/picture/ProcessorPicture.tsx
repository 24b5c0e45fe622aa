import type { Processor } from "../../../api";
import { useBench, type ForkProcessor } from "../../../sound";
import { effectShape } from "./effectShapes";
import { equaliserDb } from "./equaliserResponse";
import { combDb, filterDb, formantDb } from "./filterResponse";
import { sweptStates } from "./swept";
import { transferAt } from "./transferCurves";

interface Size {
  width: number;
  height: number;
}

interface Props extends Size {
  processor: Processor;
}

const STEPS = 120;

/** Where 0 dB lies in each picture, as a part of its height; its foot where it has none. */
const ZERO: Partial<Record<Processor["kind"], number>> = {
  filter: 18 / 60,
  drive: 0.5,
  comb: 24 / 60,
  formant: 18 / 60,
  equaliser: 0.5,
  chorus: 0.5,
  flanger: 0.5,
  vibrato: 0.5,
  reducer: 0.5,
};
const zeroOf = (part: Processor) => ZERO[part.kind] ?? 0.97;

/** Heights of a picture's curve, from left to right, in pixels. */
function heights(part: Processor, { height }: Size): number[] {
  const zero = zeroOf(part) * height;
  const at = (n: number): number => {
    const hz = 20 * 1000 ** (n / STEPS);
    switch (part.kind) {
      case "filter":
        return zero - (filterDb(part, hz) / 60) * height;
      case "formant":
        return zero - (formantDb(part, hz) / 60) * height;
      case "comb":
        return zero - (combDb(part, (6 * n) / STEPS) / 60) * height;
      case "equaliser":
        return zero - (equaliserDb(part, hz) / 48) * height;
      case "drive":
        return zero - transferAt(part, (2 * n) / STEPS - 1) * height * 0.42;
      default:
        return (0.97 - 0.94 * effectShape(part, n / STEPS)) * height;
    }
  };
  return Array.from({ length: STEPS + 1 }, (_, n) => Math.min(height, Math.max(0, at(n))));
}

const point = (y: number, n: number, width: number) =>
  `${((n / STEPS) * width).toFixed(1)} ${y.toFixed(1)}`;

/** Between the highest and the lowest of several curves at each place. */
function band(curves: number[][], width: number): string {
  const over = Array.from({ length: STEPS + 1 }, (_, n) => curves.map((curve) => curve[n] ?? 0));
  const top = over.map((ys, n) => point(Math.min(...ys), n, width));
  const bottom = over.map((ys, n) => point(Math.max(...ys), n, width)).reverse();
  return `M${top.join("L")}L${bottom.join("L")}Z`;
}

/** One line, or one for each band where bands are drawn side by side. */
function lineOf({ kind }: Processor, points: string[]): string {
  if (kind !== "multiband") return `M${points.join("L")}`;
  const third = STEPS / 3;
  return [0, 1, 2]
    .map((n) => `M${points.slice(n * third + 1, (n + 1) * third).join("L")}`)
    .join("");
}

/**
 * What a processor does, drawn: a filter's response, a drive's transfer curve, a comb's teeth; and
 * shaded, what movement makes of it over the hit.
 */
export function ProcessorPicture(props: Props) {
  const { processor } = props;
  if (processor.kind === "fork") return <ForkPicture {...props} fork={processor} />;
  return <CurvePicture {...props} />;
}

/** One line that parts into the branches and comes together again; those that are off are faint. */
function ForkPicture({ fork, width, height }: Size & { fork: ForkProcessor }) {
  const ways = Math.max(1, fork.branches.length);
  const middle = height / 2;
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="block w-full" style={{ height }} aria-hidden>
      {Array.from({ length: ways }, (_, n) => {
        const y = ((n + 1) * height) / (ways + 1);
        const { on, chain } = fork.branches[n] ?? { on: true, chain: [] };
        return (
          <g key={n} opacity={on && fork.on ? 1 : 0.3}>
            <path
              d={`M0 ${middle}H${width * 0.12}L${width * 0.26} ${y}H${width * 0.74}L${width * 0.88} ${middle}H${width}`}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1.5}
            />
            {chain.map(({ id }, k) => (
              <rect
                key={id}
                x={width * (0.32 + (0.36 * (k + 0.5)) / chain.length) - 4}
                y={y - 4}
                width={8}
                height={8}
                rx={1.5}
                fill="var(--sheet)"
                stroke="var(--ink)"
                strokeWidth={1.2}
              />
            ))}
          </g>
        );
      })}
    </svg>
  );
}

function CurvePicture({ processor, width, height }: Props) {
  const moved = useBench((state) => state.details?.moved);
  const size = { width, height };
  const middle = zeroOf(processor) * height;
  const line = heights(processor, size).map((y, n) => point(y, n, width));
  const swept = sweptStates(processor, moved ?? {}).map((state) => heights(state, size));
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="block w-full"
      style={{ height }}
      preserveAspectRatio="none"
      aria-hidden
    >
      {swept.length > 1 && <path d={band(swept, width)} fill="var(--action)" opacity={0.18} />}
      <line x1={0} x2={width} y1={middle} y2={middle} stroke="var(--line-strong)" />
      {processor.kind === "drive" && (
        <line x1={width / 2} x2={width / 2} y1={0} y2={height} stroke="var(--line-strong)" />
      )}
      <path
        d={lineOf(processor, line)}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.5}
        opacity={processor.on ? 1 : 0.35}
      />
    </svg>
  );
}
