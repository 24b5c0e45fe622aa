import type { Processor } from "../../../api";

/** Shapes of effects for their pictures: x from 0 to 1 along, answers 0 (bottom) to 1 (top). */

export type Effect = Exclude<
  Processor,
  { kind: "filter" | "drive" | "comb" | "formant" | "equaliser" }
>;
type Of<Kind extends Processor["kind"]> = Extract<Processor, { kind: Kind }>;

const bounded = (value: number) => Math.min(1, Math.max(0, value));
const hertz = (x: number) => 20 * 1000 ** x;

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

const RAISED_DB = 30;
type Dynamics = Of<"multiband">["low"];

/** Level of one band of multiband dynamics, at rest. */
export function bandLevelDb(level: number, band: Dynamics, amount: number): number {
  const over = Math.max(0, level - band.above_db) * (1 / band.above_ratio - 1);
  const lacking = Math.max(0, band.below_db - level) * (1 - 1 / band.below_ratio);
  return level + amount * (over + Math.min(RAISED_DB, lacking)) + band.level_db;
}

/** Echoes as spikes over four times the first: each as high as its loudness. */
function echoes(at: number, feedback: number): number {
  const place = at * 5;
  const echo = Math.round(place);
  if (Math.abs(place - echo) > 0.06) return 0;
  return echo === 0 ? 1 : Math.abs(feedback) ** (echo - 1) * 0.8;
}

/** A hit and what follows it, for what changes either. */
const struck = (x: number) => (x < 0.06 ? 0 : Math.exp(-5 * (x - 0.06)));

const decay = (x: number, decayS: number) =>
  bounded(1 - (x * 3) / Math.max(0.05, decayS)) * (x < 0.02 ? 0.2 : 0.9);

/** Teeth of a comb whose notches lie so many apart over the spectrum. */
const teeth = (x: number, count: number, depth: number) =>
  0.5 + 0.42 * depth * Math.cos(2 * Math.PI * count * x);

type Drawn = { [Kind in Effect["kind"]]: (part: Of<Kind>, x: number) => number };

/** A kind without a picture of its own shows a level line. */
const DRAWN: Partial<Drawn> = {
  delay: (part, x) => echoes(x, part.feedback),
  pitch_delay: (part, x) => {
    const climb = bounded(0.5 + (part.shift_st / 24) * x * 2 * 0.25);
    return echoes(x, part.feedback) > 0 ? climb * part.feedback ** Math.floor(x * 5) : 0;
  },
  chorus: (part, x) =>
    0.5 + 0.4 * Math.min(1, part.depth_s / part.delay_s) * Math.sin(4 * Math.PI * x),
  flanger: (part, x) => teeth(x, 1 + part.delay_s * 1500, 0.6 + 0.4 * Math.abs(part.feedback)),
  phaser: (part, x) => {
    const octaves = Math.log2(hertz(x) / part.centre_hz);
    return bounded(
      0.95 - 0.9 * Math.exp(-(octaves ** 2) / 3) * Math.sin(octaves * part.notches) ** 2,
    );
  },
  vibrato: (part, x) => 0.5 + (0.45 * part.depth_cent * Math.sin(6 * Math.PI * x)) / 200,
  compressor: (part, x) => bounded((compressedDb(60 * x - 60, part) + part.make_up_db + 60) / 60),
  multiband: (part, x) => {
    const band = x < 1 / 3 ? part.low : x < 2 / 3 ? part.middle : part.high;
    const level = 80 * ((x * 3) % 1) - 80;
    return bounded((bandLevelDb(level, band, part.amount) + 80) / 80);
  },
  transient: (part, x) => {
    const gainDb = x < 0.16 ? part.attack_db : part.sustain_db;
    return bounded(struck(x) * 0.55 * 10 ** (gainDb / 30));
  },
  gate: (part, x) => {
    const level = 80 * x - 80;
    const floor = part.floor_db <= -80 ? -200 : part.floor_db;
    return bounded(((level >= part.threshold_db ? level : level + floor) + 80) / 80);
  },
  reducer: (part, x) => {
    const samples = Math.max(4, Math.min(60, part.rate_hz / 400));
    const held = Math.floor(x * samples) / samples;
    const step = Math.max(0.004, 2 ** (1 - part.bits));
    return bounded(0.5 + 0.42 * step * Math.round(Math.sin(2 * Math.PI * held) / step));
  },
  resonators: (part, x) => {
    const count = part.tuning === "own" ? part.own_st.length : 4;
    const place = (x * count) % 1;
    return bounded(
      0.92 * Math.exp(-(((place - 0.5) * 9) ** 2)) * (0.4 + 0.2 * Math.log10(1 + 50 * part.ring_s)),
    );
  },
  shifter: (part, x) => {
    // Partials where they were, low, and where they are now, high.
    const place = (x * 8) % 1;
    const moved = (x * 8 - 0.35 * (part.way === "down" ? -1 : 1) + 8) % 1;
    return moved < 0.08 ? 0.85 : place < 0.05 ? 0.3 : 0;
  },
  width: (part, x) => {
    const ratio = (hertz(x) / part.mono_below_hz) ** (part.slope_db / 6);
    const side = part.mono_below_hz > 10 ? ratio / (1 + ratio) : 1;
    return bounded((side * part.width) / 2);
  },
  gain: (part, x) => {
    const share = x < 0.5 ? Math.min(1, 1 - part.pan) : Math.min(1, 1 + part.pan);
    const between = x > 0.42 && x < 0.58;
    return between ? 0 : bounded(0.5 * 10 ** (part.gain_db / 40) * share);
  },
  reverse: (_part, x) => struck(1 - x + 0.06),
  fade: (part, x) => {
    const time = x * Math.max(0.05, part.end_s) * 1.15;
    const opening = part.in_s > 0 ? bounded(time / part.in_s) : 1;
    const way = Math.min(opening, bounded((part.end_s - time) / part.out_s));
    return 0.92 * (part.way === "smooth" ? 0.5 - 0.5 * Math.cos(Math.PI * way) : way);
  },
  room: (part, x) => decay(x, part.decay_s),
  shimmer: (part, x) => {
    const climbs = Math.sin(Math.PI * 8 * x) ** 2 * part.amount;
    return bounded(decay(x, part.decay_s / (1 - part.amount ** 2)) * (0.75 + 0.25 * climbs));
  },
  convolution: (part, x) => {
    const length = { small_box: 0.12, large_box: 0.35, speaker: 0.05, spring: 1.6, plate: 2.2 };
    const ownS = part.impulse === "imported" ? part.decay_s : length[part.impulse];
    const rough = 0.75 + 0.25 * Math.sin(x * 97) * Math.sin(x * 41);
    return bounded(decay(x, Math.min(ownS * part.size, part.decay_s)) * rough);
  },
  blur: (part, x) =>
    bounded(0.15 + 0.6 * Math.exp(-((x - 0.3) ** 2) / (0.02 + 0.08 * part.time_s))),
  ceiling: (part, x) => bounded((Math.min(part.ceiling_db, 30 * x - 24 + part.gain_db) + 24) / 30),
};

export function effectShape(part: Effect, x: number): number {
  const drawn = DRAWN[part.kind] as ((part: Effect, x: number) => number) | undefined;
  return drawn ? bounded(drawn(part, x)) : 0.5;
}
