/* Made by scripts/document-types.mjs from docs/sound.schema.json; not edited by hand. */

/**
 * A one-shot, and the hit it is played with unless another is asked for.
 */
export interface Sound {
  schema_version: 1;
  name: string;
  seed: number;
  tempo_bpm: number;
  layers: Layer[];
  main: Main;
  hit: Hit;
}
/**
 * One source with its own curves, chain and output.
 *
 * The level curve's values are amplitudes from 0 to 1; the pitch curve's are semitones.
 */
export interface Layer {
  id: string;
  name: string;
  pigment: "rust" | "teal" | "ochre" | "plum" | "moss" | "slate";
  mute: boolean;
  solo: boolean;
  level_db: number;
  pan: number;
  /**
   * How much velocity changes the level; velocity 100 plays the level as set.
   */
  velocity_sense: number;
  delay_s: number;
  source: ToneSource | NoiseSource;
  level: Curve;
  pitch: Curve;
  chain: (FilterProcessor | DriveProcessor)[];
}
/**
 * One band-limited cycle, repeated at a pitch.
 */
export interface ToneSource {
  kind: "tone";
  /**
   * 0 sine, 1 triangle, 2 sawtooth, 3 pulse; between them one turns into the next.
   */
  shape: number;
  /**
   * Only the pulse has a width.
   */
  width: number;
  phase_deg: number;
  follows_note: boolean;
  fixed_hz: number;
  transpose_st: number;
  fine_cent: number;
}
/**
 * White noise from the sound's seed.
 */
export interface NoiseSource {
  kind: "noise";
  new_each_hit: boolean;
}
/**
 * Held part from the start of the hit, and a release part from the end of the hold.
 *
 * ``points`` run from the start of the layer. With an empty ``release`` they run to their end
 * whatever the hold (a one-shot). Otherwise the end of the hold jumps to the release part: its
 * times count from there, and its first way starts at the value where the curve then stands.
 * The value before the first point is the first point's, after the last point the last one's.
 */
export interface Curve {
  points: CurvePoint[];
  release: CurvePoint[];
  loop: CurveLoop | null;
}
/**
 * One point; ``bend`` shapes the way from the point before it to this one.
 */
export interface CurvePoint {
  time_s: number;
  value: number;
  /**
   * 0 is a straight line; above 0 moves fast first, below 0 moves late (exponential).
   */
  bend: number;
}
/**
 * Points between which the held part goes round until the hold ends.
 */
export interface CurveLoop {
  start: number;
  end: number;
}
/**
 * Zero-delay-feedback state-variable filter.
 */
export interface FilterProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "filter";
  response: "low_pass" | "high_pass" | "band_pass" | "notch";
  slope_db: 12 | 24;
  cutoff_hz: number;
  /**
   * Quality factor Q.
   */
  resonance: number;
}
/**
 * Soft saturation, oversampled so that it adds harmonics and nothing else.
 */
export interface DriveProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "drive";
  drive_db: number;
}
/**
 * The main output: every layer's sum goes through this chain.
 */
export interface Main {
  chain: (FilterProcessor | DriveProcessor)[];
  level_db: number;
}
/**
 * One performance of a sound.
 */
export interface Hit {
  note: number;
  velocity: number;
  hold_s: number;
  number: number;
}
