import type { Processor } from "../api/types";

interface Props {
  processor: Processor;
  width: number;
  height: number;
}

type Filter = Extract<Processor, { kind: "filter" }>;

/** Magnitude of a 2nd-order analogue section at a frequency relative to its cutoff. */
function section(response: Filter["response"], ratio: number, q: number): number {
  const r2 = ratio * ratio;
  const below = Math.hypot(1 - r2, ratio / q);
  switch (response) {
    case "low_pass":
      return 1 / below;
    case "high_pass":
      return r2 / below;
    case "band_pass":
      return ratio / q / below;
    case "notch":
      return Math.abs(1 - r2) / below;
  }
}

function filterDb(part: Filter, hz: number): number {
  const ratio = hz / part.cutoff_hz;
  const steep = section(
    part.response,
    ratio,
    part.slope_db === 24 ? part.resonance * 1.8478 : part.resonance,
  );
  const gentle = part.slope_db === 24 ? section(part.response, ratio, 0.5412) : 1;
  return 20 * Math.log10(Math.max(1e-6, steep * gentle));
}

function filterPath(part: Filter, { width, height }: Omit<Props, "processor">): string {
  return Array.from({ length: 121 }, (_, n) => {
    const hz = 20 * 1000 ** (n / 120);
    const db = Math.min(24, Math.max(-48, filterDb(part, hz)));
    const y = ((18 - db) / 60) * height;
    return `${n === 0 ? "M" : "L"}${((n / 120) * width).toFixed(1)} ${Math.min(height, Math.max(0, y)).toFixed(1)}`;
  }).join("");
}

function drivePath(gain: number, { width, height }: Omit<Props, "processor">): string {
  return Array.from({ length: 81 }, (_, n) => {
    const x = n / 40 - 1;
    const y = Math.tanh(gain * x);
    return `${n === 0 ? "M" : "L"}${((n / 80) * width).toFixed(1)} ${(height / 2 - y * height * 0.42).toFixed(1)}`;
  }).join("");
}

/** What a processor does, drawn: a filter's response, a drive's transfer curve. */
export function ProcessorPicture({ processor, width, height }: Props) {
  const size = { width, height };
  const middle = processor.kind === "filter" ? (18 / 60) * height : height / 2;
  const path =
    processor.kind === "filter"
      ? filterPath(processor, size)
      : drivePath(10 ** (processor.drive_db / 20), size);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="block w-full"
      style={{ height }}
      preserveAspectRatio="none"
      aria-hidden
    >
      <line x1={0} x2={width} y1={middle} y2={middle} stroke="var(--line-strong)" />
      {processor.kind === "drive" && (
        <line x1={width / 2} x2={width / 2} y1={0} y2={height} stroke="var(--line-strong)" />
      )}
      <path
        d={path}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.5}
        opacity={processor.on ? 1 : 0.35}
      />
    </svg>
  );
}
