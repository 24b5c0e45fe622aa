import type { Processor } from "../../../api";

/** Magnitudes of filters as pictures show them: the analogue responses they are made after. */

export type Filter = Extract<Processor, { kind: "filter" }>;
export type Formant = Extract<Processor, { kind: "formant" }>;
export type Comb = Extract<Processor, { kind: "comb" }>;

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

export function filterDb(part: Filter, hz: number): number {
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

/** Two band-passes side by side; their sum's magnitude, phases included. */
export function formantDb(part: Formant, hz: number): number {
  const shift = 2 ** (part.shift_st / 12);
  const gain = 10 ** (part.second_db / 20);
  // H = (j r / Q) / (1 - r^2 + j r / Q) of each, summed as complex numbers.
  const of = (cutoffHz: number) => {
    const ratio = hz / (cutoffHz * shift);
    const band = ratio / part.sharpness;
    const rest = 1 - ratio * ratio;
    const size = rest * rest + band * band;
    return { real: (band * band) / size, imaginary: (band * rest) / size };
  };
  const [first, second] = [of(part.first_hz), of(part.second_hz)];
  const magnitude = Math.hypot(
    first.real + gain * second.real,
    first.imaginary + gain * second.imaginary,
  );
  return 20 * Math.log10(Math.max(1e-6, magnitude));
}

/** Magnitude of a comb at a multiple (with fraction) of its frequency. */
export function combDb(part: Comb, multiple: number): number {
  const angle = 2 * Math.PI * multiple;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const above = Math.hypot(1 + part.forward * c, part.forward * s);
  const below = Math.hypot(1 - part.feedback * c, part.feedback * s);
  return 20 * Math.log10(Math.max(1e-3, above / Math.max(1e-3, below)));
}
