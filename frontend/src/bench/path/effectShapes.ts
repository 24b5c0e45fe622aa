import type { Processor } from "../../api/types";

/** Shapes of effects for their pictures: x from 0 to 1 along, answers 0 (bottom) to 1 (top). */

type Effect = Exclude<Processor, { kind: "filter" | "drive" | "comb" | "formant" }>;

const bounded = (value: number) => Math.min(1, Math.max(0, value));

/** Level of a compressor's output at an input level once all has come to rest. */
export function compressedDb(
  level: number,
  { threshold_db, ratio, knee_db }: { threshold_db: number; ratio: number; knee_db: number },
): number {
  const over = level - threshold_db;
  const slope = 1 / ratio - 1;
  if (knee_db > 0 && 2 * Math.abs(over) <= knee_db)
    return level + (slope * (over + knee_db / 2) ** 2) / (2 * knee_db);
  return over > 0 ? level + slope * over : level;
}

/** Echoes as spikes over four times the first: each as high as its loudness. */
function echoes(at: number, feedback: number): number {
  const place = at * 5;
  const echo = Math.round(place);
  if (Math.abs(place - echo) > 0.06) return 0;
  return echo === 0 ? 1 : Math.abs(feedback) ** (echo - 1) * 0.8;
}

export function effectShape(part: Effect, x: number): number {
  switch (part.kind) {
    case "delay":
      return echoes(x, part.feedback);
    case "chorus":
      return 0.5 + 0.4 * Math.min(1, part.depth_s / part.delay_s) * Math.sin(4 * Math.PI * x);
    case "compressor":
      return bounded((compressedDb(60 * x - 60, part) + part.make_up_db + 60) / 60);
    case "shifter": {
      // Partials where they were, low, and where they are now, high.
      const place = (x * 8) % 1;
      const moved = (x * 8 - 0.35 * (part.way === "down" ? -1 : 1) + 8) % 1;
      return moved < 0.08 ? 0.85 : place < 0.05 ? 0.3 : 0;
    }
    case "width": {
      const hz = 20 * 1000 ** x;
      const ratio = (hz / part.mono_below_hz) ** 4;
      const side = part.mono_below_hz > 10 ? ratio / (1 + ratio) : 1;
      return bounded((side * part.width) / 2);
    }
    case "room":
      return bounded(1 - (x * 3) / Math.max(0.05, part.decay_s)) * (x < 0.02 ? 0.2 : 0.9);
    case "ceiling": {
      const level = Math.min(part.ceiling_db, 30 * x - 24 + part.gain_db);
      return bounded((level + 24) / 30);
    }
  }
}

/** The one number that says most of an effect, with its unit's name. */
export function effectGist(part: Effect): {
  value: number;
  unit: "s" | "beat" | "dB" | "Hz" | "percent" | "";
} {
  switch (part.kind) {
    case "delay":
      return part.sync ? { value: part.beats, unit: "beat" } : { value: part.time_s, unit: "s" };
    case "chorus":
      return { value: part.rate_hz, unit: "Hz" };
    case "compressor":
      return { value: part.threshold_db, unit: "dB" };
    case "shifter":
      return { value: part.shift_hz, unit: "Hz" };
    case "width":
      return { value: part.width, unit: "percent" };
    case "room":
      return { value: part.decay_s, unit: "s" };
    case "ceiling":
      return { value: part.ceiling_db, unit: "dB" };
  }
}
