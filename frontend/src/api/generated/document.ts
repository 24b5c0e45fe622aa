/* Made by scripts/document-types.mjs from docs/sound.schema.json; not edited by hand. */

/**
 * A one-shot, and the hit it is played with unless another is asked for.
 */
export interface Sound {
  schema_version: 1;
  name: string;
  seed: number;
  tempo_bpm: number;
  pitch: Curve;
  layers: Layer[];
  buses: Bus[];
  main: Main;
  playing: Playing;
  pattern: Pattern;
  movers: (
    | CurveMover
    | LfoMover
    | StepsMover
    | RandomMover
    | NoteMover
    | VelocityMover
    | HoldMover
    | FollowerMover
    | VoiceMover
    | MacroMover
  )[];
  links: Link[];
  hit: Hit;
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
  modulation: Modulation;
  follows_pitch: boolean;
  level: Curve1;
  pitch: Curve1;
  chain: (
    | FilterProcessor
    | DriveProcessor
    | CombProcessor
    | FormantProcessor
    | DelayProcessor
    | ChorusProcessor
    | CompressorProcessor
    | ShifterProcessor
    | WidthProcessor
    | RoomProcessor
    | CeilingProcessor
  )[];
  to: string;
}
/**
 * One band-limited cycle, repeated at a pitch.
 */
export interface ToneSource {
  kind: "tone";
  cycle: "shape" | "partials";
  /**
   * 0 sine, 1 triangle, 2 sawtooth, 3 pulse; between them one turns into the next.
   */
  shape: number;
  /**
   * Only the pulse has a width.
   */
  width: number;
  partials: PartialSet;
  /**
   * Moves the middle of the cycle later or earlier.
   */
  skew: number;
  phase_deg: number;
  /**
   * How far the start phase strays from hit to hit.
   */
  phase_random: number;
  /**
   * The tone bends its own phase: from pure towards a sawtooth.
   */
  feedback: number;
  follows_note: boolean;
  fixed_hz: number;
  /**
   * Times the pitch.
   */
  ratio: number;
  octave: number;
  transpose_st: number;
  fine_cent: number;
  vibrato_hz: number;
  vibrato_st: number;
  unison: Unison;
}
/**
 * Partials drawn by hand: partial k has ``amplitudes[k - 1]`` and ``phases_deg[k - 1]``.
 *
 * Partials beyond the end of a list have amplitude 0 and phase 0.
 */
export interface PartialSet {
  amplitudes: number[];
  phases_deg: number[];
  /**
   * Per octave above the first.
   */
  tilt_db: number;
  /**
   * Below 0 the even partials are lowered, above 0 the odd ones from the third on.
   */
  odd_even: number;
  /**
   * Removes each n-th partial; 0 and 1 remove none.
   */
  comb: number;
}
/**
 * The same tone several times at once, slightly apart.
 */
export interface Unison {
  voices: number;
  /**
   * Of the outermost voices.
   */
  detune_cent: number;
  width: number;
  phase_spread: number;
  /**
   * 0 % the innermost voices only, 50 % all alike, 100 % the outermost only.
   */
  balance: number;
}
/**
 * Noise from the sound's seed.
 */
export interface NoiseSource {
  kind: "noise";
  texture: "even" | "crackle" | "stepped";
  /**
   * Slope per octave: 0 white, -3 pink, -6 brown, above 0 bright.
   */
  colour_db: number;
  /**
   * Impulses of a crackle, or steps of a stepped noise, per second.
   */
  rate_hz: number;
  /**
   * 0 % the same on both sides, 100 % two noises that share nothing.
   */
  width: number;
  /**
   * Starts so far into the noise: another stretch of the same kind.
   */
  offset_s: number;
  new_each_hit: boolean;
}
/**
 * Another layer acts on this one before its level.
 */
export interface Modulation {
  by: string | null;
  way: "phase" | "frequency" | "ring" | "amplitude" | "sync";
  /**
   * Phase: 100 % is one cycle at full scale; frequency: as much as the pitch itself. Ring, amplitude and sync: 100 % is all of it.
   */
  amount: number;
}
/**
 * Held part from the start of the hit, and a release part from the end of the hold.
 *
 * ``points`` run from the start of the layer. With an empty ``release`` they run to their end
 * whatever the hold (a one-shot). Otherwise the end of the hold jumps to the release part: its
 * times count from there, and its first way starts at the value where the curve then stands.
 * The value before the first point is the first point's, after the last point the last one's.
 */
export interface Curve1 {
  points: CurvePoint[];
  release: CurvePoint[];
  loop: CurveLoop | null;
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
  response: "low_pass" | "high_pass" | "band_pass" | "notch" | "peak" | "low_shelf" | "high_shelf";
  /**
   * Band-pass, notch and peak have 12 dB per octave at least.
   */
  slope_db: 6 | 12 | 24 | 36;
  cutoff_hz: number;
  /**
   * Quality factor Q.
   */
  resonance: number;
  /**
   * Of a peak or a shelf.
   */
  gain_db: number;
  /**
   * 100 %: the cutoff goes with the note, and is as set at C4.
   */
  key_follow: number;
  /**
   * Saturates what goes in and the resonance itself; full scale stays full scale.
   */
  drive_db: number;
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
 * A delay of one period, fed back: it rings at a pitch and its multiples.
 */
export interface CombProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "comb";
  follows_note: boolean;
  frequency_hz: number;
  /**
   * From the note it follows.
   */
  transpose_st: number;
  /**
   * Below 0 only the odd partials ring, an octave lower.
   */
  feedback: number;
  forward: number;
  /**
   * Highs above it die away sooner; none at 20 kHz.
   */
  damping_hz: number;
}
/**
 * Two resonances side by side, as a throat makes them; all between them is held back.
 */
export interface FormantProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "formant";
  first_hz: number;
  second_hz: number;
  /**
   * Quality factor of both.
   */
  sharpness: number;
  second_db: number;
  /**
   * Moves both together.
   */
  shift_st: number;
  key_follow: number;
}
/**
 * Echoes: the sound again after a time, each time through two filters and softer.
 */
export interface DelayProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "delay";
  sync: boolean;
  time_s: number;
  /**
   * 3/4 is a dotted eighth of a bar of four.
   */
  beats: number;
  /**
   * Loop gain of the echoes.
   */
  feedback: number;
  /**
   * Echoes go from side to side.
   */
  crossing: boolean;
  low_cut_hz: number;
  high_cut_hz: number;
}
/**
 * Up to eight copies, each a little late by a time that goes to and fro.
 */
export interface ChorusProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "chorus";
  voices: number;
  delay_s: number;
  depth_s: number;
  rate_hz: number;
  /**
   * Near the ends it rings.
   */
  feedback: number;
  width: number;
}
/**
 * Lowers what is louder than a threshold, by a ratio.
 */
export interface CompressorProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "compressor";
  threshold_db: number;
  ratio: number;
  knee_db: number;
  attack_s: number;
  release_s: number;
  look_ahead_s: number;
  measure: "peak" | "rms";
  make_up_db: number;
}
/**
 * Moves every partial by the same number of Hz, or multiplies with a sine.
 */
export interface ShifterProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "shifter";
  way: "up" | "down" | "ring";
  shift_hz: number;
}
/**
 * The sides against the middle; below a frequency all is mono.
 */
export interface WidthProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "width";
  /**
   * 0 % mono, 100 % as it is.
   */
  width: number;
  /**
   * 10 Hz: nowhere.
   */
  mono_below_hz: number;
}
/**
 * A room: sixteen delay lines that feed each other, damped like walls and air.
 */
export interface RoomProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "room";
  /**
   * Metres between its walls.
   */
  size_m: number;
  /**
   * To -60 dB.
   */
  decay_s: number;
  /**
   * Above it the room dies away sooner; not at all at 20 kHz.
   */
  damping_hz: number;
  pre_delay_s: number;
  low_cut_hz: number;
  width: number;
}
/**
 * Nothing passes above it, not even between the samples.
 */
export interface CeilingProcessor {
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  kind: "ceiling";
  ceiling_db: number;
  gain_db: number;
  release_s: number;
}
/**
 * Layers and other buses meet here. Split, its low and its high part have a chain each.
 *
 * ``chain`` works on the whole, or on the high part where the bus is split.
 */
export interface Bus {
  id: string;
  name: string;
  to: string;
  mute: boolean;
  /**
   * Low and high part go their own ways and meet again in phase.
   */
  split: boolean;
  crossover_hz: number;
  low_db: number;
  high_db: number;
  level_db: number;
  chain: (
    | FilterProcessor
    | DriveProcessor
    | CombProcessor
    | FormantProcessor
    | DelayProcessor
    | ChorusProcessor
    | CompressorProcessor
    | ShifterProcessor
    | WidthProcessor
    | RoomProcessor
    | CeilingProcessor
  )[];
  low_chain: (
    | FilterProcessor
    | DriveProcessor
    | CombProcessor
    | FormantProcessor
    | DelayProcessor
    | ChorusProcessor
    | CompressorProcessor
    | ShifterProcessor
    | WidthProcessor
    | RoomProcessor
    | CeilingProcessor
  )[];
}
/**
 * The main output: every layer's sum goes through this chain.
 */
export interface Main {
  chain: (
    | FilterProcessor
    | DriveProcessor
    | CombProcessor
    | FormantProcessor
    | DelayProcessor
    | ChorusProcessor
    | CompressorProcessor
    | ShifterProcessor
    | WidthProcessor
    | RoomProcessor
    | CeilingProcessor
  )[];
  level_db: number;
}
/**
 * How several notes of a sound go together.
 */
export interface Playing {
  /**
   * Poly: all sound. Mono: the newest ends the one before. Legato: a note played into another goes on with its curves.
   */
  way: "poly" | "mono" | "legato";
  /**
   * Time on the way from one note to the next; mono and legato only.
   */
  glide_s: number;
}
/**
 * A few notes inside one hit: a roll or a flourish.
 */
export interface Pattern {
  order: "off" | "repeat" | "up" | "down" | "up_down";
  /**
   * 0: as many as fit into the hold.
   */
  notes: number;
  /**
   * Up and down go over so many.
   */
  octaves: number;
  sync: boolean;
  beats: number;
  every_s: number;
  /**
   * How much of its time a note is held; above 100 % it reaches into the next.
   */
  gate: number;
  /**
   * Below 0 each note is softer than the one before, above 0 louder; the loudest is as set.
   */
  fade_db: number;
}
/**
 * A further curve, from -1 to 1, from the start of the hit.
 */
export interface CurveMover {
  id: string;
  name: string;
  kind: "curve";
  curve: Curve1;
}
/**
 * A cycle that goes round at a rate, or in beats.
 */
export interface LfoMover {
  id: string;
  name: string;
  kind: "lfo";
  shape: "sine" | "triangle" | "saw_up" | "saw_down" | "square" | "stepped" | "smooth" | "drawn";
  sync: boolean;
  rate_hz: number;
  beats: number;
  /**
   * Of the square's upper part.
   */
  width: number;
  phase_deg: number;
  delay_s: number;
  fade_s: number;
  once: boolean;
  one_sided: boolean;
  /**
   * Each hit starts elsewhere in the cycle.
   */
  free: boolean;
  drawn: Curve1;
}
/**
 * Values one after the other, round and round.
 */
export interface StepsMover {
  id: string;
  name: string;
  kind: "steps";
  values: number[];
  skipped: boolean[];
  sync: boolean;
  beats: number;
  rate_hz: number;
  /**
   * Part of a step spent on the way to it.
   */
  glide: number;
}
/**
 * Another value each hit; with a rate, wandering within the hit.
 */
export interface RandomMover {
  id: string;
  name: string;
  kind: "random";
  spread: "uniform" | "normal";
  /**
   * 0 Hz: one value for the whole hit; else new values at this rate, smoothed.
   */
  rate_hz: number;
}
/**
 * -1 at the lowest key of its range, 1 at the highest.
 */
export interface NoteMover {
  id: string;
  name: string;
  kind: "note";
  low: number;
  high: number;
}
/**
 * 0 at the softest, 1 at the hardest hit.
 */
export interface VelocityMover {
  id: string;
  name: string;
  kind: "velocity";
}
/**
 * 0 for a tap, 1 from a hold of ``longest_s`` on.
 */
export interface HoldMover {
  id: string;
  name: string;
  kind: "hold";
  longest_s: number;
}
/**
 * The level of a layer, 0 in silence, 1 at full scale; or of a pattern of pulses in beats.
 */
export interface FollowerMover {
  id: string;
  name: string;
  kind: "follower";
  layer: string | null;
  /**
   * Levels of the pulses that it follows where it follows no layer.
   */
  pulses: number[];
  beats: number;
  pulse_s: number;
  attack_s: number;
  release_s: number;
}
/**
 * -1 for the lowest, 1 for the highest voice of a unison: the voices differ in what it moves.
 *
 * It moves numbers of a tone and its pitch.
 */
export interface VoiceMover {
  id: string;
  name: string;
  kind: "voice";
}
/**
 * One value from 0 to 1 that drives whatever is linked to it.
 */
export interface MacroMover {
  id: string;
  name: string;
  kind: "macro";
  value: number;
}
/**
 * A mover moves a parameter: ``target`` is the part's id and the parameter's path in it.
 */
export interface Link {
  mover: string;
  target: string;
  /**
   * In the unit in which the target is moved.
   */
  amount: number;
  bend: number;
  scaled_by: string | null;
}
/**
 * One performance of a sound. All its notes are let go at the end of its hold.
 */
export interface Hit {
  note: number;
  velocity: number;
  hold_s: number;
  number: number;
  further: FurtherNote[];
}
/**
 * A note beside the hit's own: at once it makes a chord, later it follows.
 */
export interface FurtherNote {
  note: number;
  at_s: number;
}
