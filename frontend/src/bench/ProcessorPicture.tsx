import type { Processor } from "../api/types";

interface Props {
  processor: Processor;
  width: number;
  height: number;
}

type Filter = Extract<Processor, { kind: "filter" }>;

const ONE_POLE: Filter["response"][] = ["low_pass", "high_pass", "low_shelf", "high_shelf"];

/** Magnitude of one analogue section at a frequency relative to its cutoff. */
function section(response: Filter["response"], ratio: number, q: number, gainDb: number): number {
  const r2 = ratio * ratio;
  const a = 10 ** (gainDb / 40);
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
    case "peak":
      return Math.hypot(1 - r2, (ratio * a) / q) / Math.hypot(1 - r2, ratio / (a * q));
    case "low_shelf":
      return (
        (a * Math.hypot(a - r2, (Math.sqrt(a) * ratio) / q)) /
        Math.hypot(1 - a * r2, (Math.sqrt(a) * ratio) / q)
      );
    case "high_shelf":
      return (
        (a * Math.hypot(1 - a * r2, (Math.sqrt(a) * ratio) / q)) /
        Math.hypot(a - r2, (Math.sqrt(a) * ratio) / q)
      );
  }
}

/** Magnitude of one pole. */
function onePole(response: Filter["response"], ratio: number, gainDb: number): number {
  const v = 10 ** (gainDb / 20);
  if (response === "low_pass") return 1 / Math.hypot(1, ratio);
  if (response === "high_pass") return ratio / Math.hypot(1, ratio);
  const r = response === "low_shelf" ? ratio : 1 / ratio;
  return Math.hypot(v, Math.sqrt(v) * r) / Math.hypot(1, Math.sqrt(v) * r);
}

/** Q of each section of a flat response of so many sections. */
const SECTION_Q: Record<number, number[]> = {
  12: [0.7071],
  24: [0.5412, 1.3066],
  36: [0.5176, 0.7071, 1.9319],
};

function filterDb(part: Filter, hz: number): number {
  const ratio = hz / part.cutoff_hz;
  if (part.slope_db === 6 && ONE_POLE.includes(part.response))
    return 20 * Math.log10(Math.max(1e-6, onePole(part.response, ratio, part.gain_db)));
  const row = SECTION_Q[Math.max(12, part.slope_db)] ?? [0.7071];
  const shaped = ["peak", "low_shelf", "high_shelf"].includes(part.response);
  const gain = row.reduce((product, own, n) => {
    const sharpest = n === row.length - 1;
    const q = shaped ? part.resonance : sharpest ? own * Math.SQRT2 * part.resonance : own;
    return product * section(part.response, ratio, q, part.gain_db / row.length);
  }, 1);
  return 20 * Math.log10(Math.max(1e-6, gain));
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

type Comb = Extract<Processor, { kind: "comb" }>;

/** Magnitude of a comb over its first six multiples. */
function combPath(part: Comb, { width, height }: Omit<Props, "processor">): string {
  return Array.from({ length: 201 }, (_, n) => {
    const angle = 2 * Math.PI * 6 * (n / 200);
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const above = Math.hypot(1 + part.forward * c, part.forward * s);
    const below = Math.hypot(1 - part.feedback * c, part.feedback * s);
    const db = Math.min(24, Math.max(-36, 20 * Math.log10(Math.max(1e-3, above / below))));
    return `${n === 0 ? "M" : "L"}${((n / 200) * width).toFixed(1)} ${(((24 - db) / 60) * height).toFixed(1)}`;
  }).join("");
}

function pathOf(processor: Processor, size: Omit<Props, "processor">): string {
  switch (processor.kind) {
    case "filter":
      return filterPath(processor, size);
    case "drive":
      return drivePath(10 ** (processor.drive_db / 20), size);
    case "comb":
      return combPath(processor, size);
  }
}

/** Where 0 dB lies in each picture, as a part of its height; the middle of a transfer curve. */
const ZERO: Record<Processor["kind"], number> = { filter: 18 / 60, drive: 0.5, comb: 24 / 60 };

/** What a processor does, drawn: a filter's response, a drive's transfer curve, a comb's teeth. */
export function ProcessorPicture({ processor, width, height }: Props) {
  const middle = ZERO[processor.kind] * height;
  const path = pathOf(processor, { width, height });
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
