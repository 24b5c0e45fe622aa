/* Made by scripts/document-types.mjs from docs/sound.schema.json; not edited by hand. */

/**
 * A one-shot, and the hit it is played with unless another is asked for.
 */
export interface Sound {
  schema_version: 2;
  name: string;
  seed: number;
  tempo_bpm: number;
  pitch: Curve;
  layers: Layer[];
  buses: Bus[];
  sends: Send[];
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
  reference: Reference | null;
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
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  time_s: number;
  value: number;
  /**
   * 0 is a straight line; above 0 moves early, below 0 moves late (exponential).
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
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
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
  source: ToneSource | WavetableSource | NoiseSource | StruckSource | SampleSource;
  modulators: Modulator[];
  follows_pitch: boolean;
  level: Curve1;
  pitch: Curve1;
  chain: (
    | EqualiserProcessor
    | FilterProcessor
    | TiltProcessor
    | FormantProcessor
    | CombProcessor
    | ResonatorsProcessor
    | DriveProcessor
    | ReducerProcessor
    | ShifterProcessor
    | CompressorProcessor
    | MultibandProcessor
    | TransientProcessor
    | GateProcessor
    | GainProcessor
    | FadeProcessor
    | CeilingProcessor
    | ChorusProcessor
    | FlangerProcessor
    | PhaserProcessor
    | VibratoProcessor
    | DelayProcessor
    | PitchDelayProcessor
    | RoomProcessor
    | ShimmerProcessor
    | ConvolutionProcessor
    | BlurProcessor
    | WidthProcessor
    | WidenerProcessor
    | ReverseProcessor
    | ForkProcessor
  )[];
  to: string;
}
/**
 * One band-limited cycle, repeated at a pitch.
 */
export interface ToneSource {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  follows_note: boolean;
  /**
   * Times the pitch.
   */
  ratio: number;
  octave: number;
  transpose_st: number;
  fine_cent: number;
  vibrato_hz: number;
  vibrato_st: number;
  fixed_hz: number;
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
   * Removes every nth partial; 0 and 1 remove none.
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
 * Cycles read at a pitch, one after the other or wherever the position is moved to.
 */
export interface WavetableSource {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  follows_note: boolean;
  /**
   * Times the pitch.
   */
  ratio: number;
  octave: number;
  transpose_st: number;
  fine_cent: number;
  vibrato_hz: number;
  vibrato_st: number;
  fixed_hz: number;
  kind: "wavetable";
  table: StockTable | PartialTable | DrawnTable | ImportedTable | SlicedTable;
  /**
   * 0 % the first frame, 100 % the last.
   */
  position: number;
  /**
   * Moves the middle of each cycle later or earlier.
   */
  skew: number;
  /**
   * Crowds each cycle towards its ends, below 0 towards its middle.
   */
  bend: number;
  /**
   * Raises each cycle and folds it back at full scale.
   */
  fold: number;
  reading: "smooth" | "stepped";
  scan: "still" | "forwards" | "backwards" | "back_and_forth";
  /**
   * From the first frame to the last.
   */
  scan_s: number;
  phase_deg: number;
  phase_random: number;
  unison: Unison;
}
/**
 * A table that comes with the program.
 */
export interface StockTable {
  origin: "stock";
  name: string;
}
/**
 * Sets of partials, evenly spread over the table, with what lies between mixed.
 */
export interface PartialTable {
  origin: "partials";
  keys: PartialSet[];
  frames: number;
}
/**
 * Cycles drawn by hand, as levels from -1 to 1, evenly spread over the table.
 */
export interface DrawnTable {
  origin: "drawn";
  keys: number[][];
  frames: number;
}
/**
 * Cycles one behind the other in a stored recording.
 */
export interface ImportedTable {
  origin: "imported";
  recording: string;
  name: string;
  /**
   * Samples of one cycle.
   */
  cycle_frames: number;
}
/**
 * Single periods cut from a stored recording at even distances.
 */
export interface SlicedTable {
  origin: "sliced";
  recording: string;
  name: string;
  /**
   * One period of it is one frame.
   */
  hz: number;
  start_s: number;
  /**
   * 0: the sample's end.
   */
  end_s: number;
  frames: number;
}
/**
 * Noise from the sound's seed.
 */
export interface NoiseSource {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
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
   * Starts this far into the noise: a different part of it.
   */
  offset_s: number;
  new_each_hit: boolean;
}
/**
 * A body with modes of its own, set ringing by a blow, a burst of noise or a sweep.
 */
export interface StruckSource {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  follows_note: boolean;
  /**
   * Times the pitch.
   */
  ratio: number;
  octave: number;
  transpose_st: number;
  fine_cent: number;
  vibrato_hz: number;
  vibrato_st: number;
  fixed_hz: number;
  kind: "struck";
  body: "bar" | "plate" | "membrane" | "tube" | "stopped_tube" | "string" | "set" | "string_loop";
  /**
   * Twice as large, it sounds an octave lower and rings twice as long.
   */
  size: number;
  modes: number;
  /**
   * Where it is struck: 0 % at the edge or end, 100 % in the middle.
   */
  position: number;
  /**
   * Of the first mode, to -60 dB.
   */
  decay_s: number;
  /**
   * Each octave higher rings 2 to this power shorter: 0 all alike, 1 half, 2 a quarter.
   */
  damping: number;
  /**
   * The coefficient B of a stiff string; it spreads the upper modes.
   */
  inharmonicity: number;
  /**
   * Length of one side relative to the other.
   */
  aspect: number;
  /**
   * Puts modes to either side.
   */
  spread: number;
  /**
   * Semitones of a tuned set above the pitch.
   */
  set_st: number[];
  exciter: "impulse" | "noise" | "sweep";
  /**
   * Of a noise burst or a sweep.
   */
  exciter_s: number;
  /**
   * 0 Hz: by the hardness, from 500 Hz to 16 kHz.
   */
  sweep_from_hz: number;
  sweep_to_hz: number;
  /**
   * A soft exciter leaves the upper modes at rest.
   */
  hardness: number;
  /**
   * The exciter itself, heard beside the body.
   */
  knock: number;
  new_each_hit: boolean;
  changes: ModeChange[];
}
/**
 * One mode of a body, otherwise than the body's kind has it.
 */
export interface ModeChange {
  /**
   * Counted from 1, in the order of the body's own list.
   */
  mode: number;
  /**
   * From its own place.
   */
  shift_cent: number;
  level_db: number;
  /**
   * Times its own.
   */
  ring: number;
  mute: boolean;
}
/**
 * A stored recording: a part of it, forwards or reversed, looped, slowed or hastened.
 */
export interface SampleSource {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  follows_note: boolean;
  /**
   * Times the pitch.
   */
  ratio: number;
  octave: number;
  transpose_st: number;
  fine_cent: number;
  vibrato_hz: number;
  vibrato_st: number;
  kind: "sample";
  recording: string | null;
  name: string;
  start_s: number;
  /**
   * 0: the recording's end.
   */
  end_s: number;
  snap: boolean;
  reverse: boolean;
  /**
   * The note the file plays.
   */
  root_note: number;
  root_cent: number;
  loop: "off" | "held" | "always";
  loop_way: "forwards" | "back_and_forth";
  loop_start_s: number;
  /**
   * 0: the end of what is played.
   */
  loop_end_s: number;
  /**
   * Length of the crossfade at the loop point.
   */
  crossfade_s: number;
  reading: "plain" | "grains";
  /**
   * In grains the pitch stays: 50 % is half as fast, 0 % stands still.
   */
  speed: number;
  grain_s: number;
  /**
   * Random offset of each grain.
   */
  spray_s: number;
  /**
   * Each hit starts this much later than the one before.
   */
  advance_s: number;
  /**
   * Each hit starts up to this much later.
   */
  random_start_s: number;
  unison: Unison;
}
/**
 * Another layer acts on this one before its level.
 */
export interface Modulator {
  id: string;
  by: string;
  on: boolean;
  way: "phase" | "frequency" | "ring" | "amplitude" | "sync";
  /**
   * Phase: 100 % is one cycle at full scale; frequency: as much as the pitch itself. Ring, amplitude and sync: 100 % is all of it.
   */
  amount: number;
  /**
   * Where the other layer is taken: before its level curve, after it, or at its output, after its chain.
   */
  tap: "source" | "level" | "output";
  /**
   * Each voice by the other layer's voice of the same number, where both have as many and the tap lies before the chain.
   */
  by_voice: boolean;
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
 * Eight bands; one that neither cuts nor raises anything costs nothing.
 */
export interface EqualiserProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "equaliser";
  band_1: EqualiserBand;
  band_2: EqualiserBand1;
  band_3: EqualiserBand2;
  band_4: EqualiserBand3;
  band_5: EqualiserBand4;
  band_6: EqualiserBand5;
  band_7: EqualiserBand6;
  band_8: EqualiserBand7;
}
/**
 * One band: a bell, a shelf, a cut or a notch.
 */
export interface EqualiserBand {
  on: boolean;
  response: "peak" | "low_shelf" | "high_shelf" | "low_cut" | "high_cut" | "notch";
  frequency_hz: number;
  /**
   * Of a bell or a shelf.
   */
  gain_db: number;
  /**
   * Quality factor Q; of a shelf 4 at most.
   */
  sharpness: number;
}
/**
 * One band: a bell, a shelf, a cut or a notch.
 */
export interface EqualiserBand1 {
  on: boolean;
  response: "peak" | "low_shelf" | "high_shelf" | "low_cut" | "high_cut" | "notch";
  frequency_hz: number;
  /**
   * Of a bell or a shelf.
   */
  gain_db: number;
  /**
   * Quality factor Q; of a shelf 4 at most.
   */
  sharpness: number;
}
/**
 * One band: a bell, a shelf, a cut or a notch.
 */
export interface EqualiserBand2 {
  on: boolean;
  response: "peak" | "low_shelf" | "high_shelf" | "low_cut" | "high_cut" | "notch";
  frequency_hz: number;
  /**
   * Of a bell or a shelf.
   */
  gain_db: number;
  /**
   * Quality factor Q; of a shelf 4 at most.
   */
  sharpness: number;
}
/**
 * One band: a bell, a shelf, a cut or a notch.
 */
export interface EqualiserBand3 {
  on: boolean;
  response: "peak" | "low_shelf" | "high_shelf" | "low_cut" | "high_cut" | "notch";
  frequency_hz: number;
  /**
   * Of a bell or a shelf.
   */
  gain_db: number;
  /**
   * Quality factor Q; of a shelf 4 at most.
   */
  sharpness: number;
}
/**
 * One band: a bell, a shelf, a cut or a notch.
 */
export interface EqualiserBand4 {
  on: boolean;
  response: "peak" | "low_shelf" | "high_shelf" | "low_cut" | "high_cut" | "notch";
  frequency_hz: number;
  /**
   * Of a bell or a shelf.
   */
  gain_db: number;
  /**
   * Quality factor Q; of a shelf 4 at most.
   */
  sharpness: number;
}
/**
 * One band: a bell, a shelf, a cut or a notch.
 */
export interface EqualiserBand5 {
  on: boolean;
  response: "peak" | "low_shelf" | "high_shelf" | "low_cut" | "high_cut" | "notch";
  frequency_hz: number;
  /**
   * Of a bell or a shelf.
   */
  gain_db: number;
  /**
   * Quality factor Q; of a shelf 4 at most.
   */
  sharpness: number;
}
/**
 * One band: a bell, a shelf, a cut or a notch.
 */
export interface EqualiserBand6 {
  on: boolean;
  response: "peak" | "low_shelf" | "high_shelf" | "low_cut" | "high_cut" | "notch";
  frequency_hz: number;
  /**
   * Of a bell or a shelf.
   */
  gain_db: number;
  /**
   * Quality factor Q; of a shelf 4 at most.
   */
  sharpness: number;
}
/**
 * One band: a bell, a shelf, a cut or a notch.
 */
export interface EqualiserBand7 {
  on: boolean;
  response: "peak" | "low_shelf" | "high_shelf" | "low_cut" | "high_cut" | "notch";
  frequency_hz: number;
  /**
   * Of a bell or a shelf.
   */
  gain_db: number;
  /**
   * Quality factor Q; of a shelf 4 at most.
   */
  sharpness: number;
}
/**
 * Zero-delay-feedback state-variable filter.
 */
export interface FilterProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
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
   * Saturates the input and the resonance; full scale stays full scale.
   */
  drive_db: number;
}
/**
 * Highs up and lows down alike around a pivot, or the other way round.
 */
export interface TiltProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "tilt";
  /**
   * Highs rise by it and lows fall by it; below 0 the other way round.
   */
  tilt_db: number;
  /**
   * What lies there stays as loud.
   */
  pivot_hz: number;
}
/**
 * Two resonances side by side, as a throat makes them; all between them is held back.
 */
export interface FormantProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
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
 * A delay of one period, fed back: it rings at a pitch and its multiples.
 */
export interface CombProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
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
 * A set of tuned strings that ring along with what they hear.
 */
export interface ResonatorsProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "resonators";
  tuning: "octaves" | "fifths" | "major" | "minor" | "fourths" | "tritone" | "cluster" | "own";
  /**
   * Steps of a custom tuning, in semitones.
   */
  own_st: number[];
  follows_note: boolean;
  frequency_hz: number;
  /**
   * From the note they follow.
   */
  transpose_st: number;
  /**
   * To -60 dB.
   */
  ring_s: number;
  /**
   * Highs above it die away sooner; none at 20 kHz.
   */
  damping_hz: number;
  width: number;
}
/**
 * Saturation and folding, oversampled so that they add harmonics and nothing else.
 */
export interface DriveProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "drive";
  shape: "soft" | "tube" | "hard" | "fold" | "sine_fold" | "rectify" | "drawn";
  drive_db: number;
  /**
   * Pushes one half of the wave further in: even harmonics. Offset is removed.
   */
  asymmetry: number;
  /**
   * 10 Hz: none.
   */
  low_cut_hz: number;
  /**
   * 20 kHz: none.
   */
  tone_hz: number;
  /**
   * 20 kHz: none.
   */
  high_cut_hz: number;
  drawn: TransferPoint[];
}
/**
 * A point of a drawn transfer curve, input and output re full scale.
 */
export interface TransferPoint {
  x: number;
  y: number;
}
/**
 * Fewer bits and fewer samples, as small old machines had.
 */
export interface ReducerProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "reducer";
  bits: number;
  rate_hz: number;
  /**
   * Removes what lies above half the new rate, so that less aliases.
   */
  smooth: boolean;
}
/**
 * Moves every partial by the same number of Hz, or multiplies with a sine.
 */
export interface ShifterProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "shifter";
  way: "up" | "down" | "ring";
  shift_hz: number;
}
/**
 * Lowers what is louder than a threshold, by a ratio.
 */
export interface CompressorProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "compressor";
  threshold_db: number;
  ratio: number;
  knee_db: number;
  attack_s: number;
  release_s: number;
  look_ahead_s: number;
  measure: "peak" | "rms";
  make_up_db: number;
  /**
   * Another layer that controls it instead of its own input.
   */
  side: string | null;
  /**
   * 10 Hz: none.
   */
  side_low_cut_hz: number;
}
/**
 * Three bands, each lowered where it is loud and raised where it is soft.
 */
export interface MultibandProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "multiband";
  amount: number;
  low_split_hz: number;
  high_split_hz: number;
  attack_s: number;
  release_s: number;
  low: DynamicsBand;
  middle: DynamicsBand1;
  high: DynamicsBand2;
}
/**
 * What is done to one band: above a threshold it is lowered, below another one raised.
 */
export interface DynamicsBand {
  above_db: number;
  above_ratio: number;
  below_db: number;
  /**
   * Raises by 30 dB at most.
   */
  below_ratio: number;
  level_db: number;
}
/**
 * What is done to one band: above a threshold it is lowered, below another one raised.
 */
export interface DynamicsBand1 {
  above_db: number;
  above_ratio: number;
  below_db: number;
  /**
   * Raises by 30 dB at most.
   */
  below_ratio: number;
  level_db: number;
}
/**
 * What is done to one band: above a threshold it is lowered, below another one raised.
 */
export interface DynamicsBand2 {
  above_db: number;
  above_ratio: number;
  below_db: number;
  /**
   * Raises by 30 dB at most.
   */
  below_ratio: number;
  level_db: number;
}
/**
 * Attacks and what follows them, raised or lowered, whatever their level.
 */
export interface TransientProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "transient";
  attack_db: number;
  sustain_db: number;
  /**
   * How long an attack is taken to be.
   */
  speed_s: number;
}
/**
 * Closes where it is softer than a threshold.
 */
export interface GateProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "gate";
  threshold_db: number;
  /**
   * -80 dB: closed to silence.
   */
  floor_db: number;
  attack_s: number;
  hold_s: number;
  release_s: number;
  look_ahead_s: number;
  /**
   * Another layer that controls it instead of its own input.
   */
  side: string | null;
  /**
   * 10 Hz: none.
   */
  side_low_cut_hz: number;
}
/**
 * Level and place between the sides.
 */
export interface GainProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "gain";
  gain_db: number;
  pan: number;
  invert: boolean;
}
/**
 * In at the start, out at a moment after which there is nothing.
 */
export interface FadeProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "fade";
  in_s: number;
  out_s: number;
  end_s: number;
  way: "smooth" | "straight";
}
/**
 * Nothing passes above it, not even between the samples.
 */
export interface CeilingProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "ceiling";
  ceiling_db: number;
  gain_db: number;
  release_s: number;
}
/**
 * Up to eight copies, each a little late by a time that goes back and forth.
 */
export interface ChorusProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
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
 * One copy so close that both meet in a comb, which goes up and down.
 */
export interface FlangerProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "flanger";
  delay_s: number;
  depth_s: number;
  rate_hz: number;
  /**
   * Near the ends it rings.
   */
  feedback: number;
  apart_deg: number;
}
/**
 * Notches that go up and down, made by all-passes.
 */
export interface PhaserProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "phaser";
  notches: number;
  centre_hz: number;
  depth_oct: number;
  rate_hz: number;
  feedback: number;
  apart_deg: number;
}
/**
 * The pitch of all that comes in goes up and down.
 */
export interface VibratoProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "vibrato";
  depth_cent: number;
  rate_hz: number;
  apart_deg: number;
}
/**
 * Echoes: the sound again after a time, each time through two filters and softer.
 */
export interface DelayProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
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
   * Echoes alternate between left and right.
   */
  crossing: boolean;
  low_cut_hz: number;
  high_cut_hz: number;
  /**
   * Moves low cut and high cut together.
   */
  shift_oct: number;
  /**
   * How fast the delay time is modulated; at high rates it buzzes.
   */
  wobble_hz: number;
  wobble_s: number;
}
/**
 * Echoes of which each is higher or lower than the one before.
 */
export interface PitchDelayProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "pitch_delay";
  sync: boolean;
  time_s: number;
  beats: number;
  shift_st: number;
  /**
   * Loop gain of the echoes.
   */
  feedback: number;
  /**
   * Left is shifted up and right down by half of it, so that the echoes widen.
   */
  detune_cent: number;
  /**
   * Short for clicks and hits, long for tones.
   */
  grain_s: number;
  low_cut_hz: number;
  high_cut_hz: number;
}
/**
 * A room: sixteen delay lines that feed each other, damped like walls and air.
 */
export interface RoomProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "room";
  /**
   * Distance between the walls.
   */
  size_m: number;
  /**
   * To -60 dB.
   */
  decay_s: number;
  /**
   * Highs above it decay faster; no damping at 20 kHz.
   */
  damping_hz: number;
  pre_delay_s: number;
  low_cut_hz: number;
  high_cut_hz: number;
  /**
   * Modulates the delay lines, so that a long tail keeps moving.
   */
  movement: number;
  width: number;
}
/**
 * A room whose tail climbs or falls by an interval, again and again.
 */
export interface ShimmerProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "shimmer";
  shift_st: number;
  /**
   * How much of the tail is shifted again.
   */
  amount: number;
  size_m: number;
  /**
   * Of the reverb alone.
   */
  decay_s: number;
  damping_hz: number;
  low_cut_hz: number;
  /**
   * Sways what is transposed by up to 15 cents, so that the tail keeps moving.
   */
  movement: number;
  width: number;
}
/**
 * The answer of a body to a click, given to every sample of the sound.
 */
export interface ConvolutionProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "convolution";
  impulse: "small_box" | "large_box" | "speaker" | "spring" | "plate" | "imported";
  /**
   * Of an imported impulse.
   */
  recording: string | null;
  /**
   * 2: twice as long and low.
   */
  size: number;
  /**
   * Fades it by 60 dB.
   */
  decay_s: number;
  pre_delay_s: number;
  low_cut_hz: number;
  high_cut_hz: number;
}
/**
 * Spreads the spectrum over time: what was a hit becomes a cloud.
 */
export interface BlurProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "blur";
  /**
   * To -60 dB.
   */
  time_s: number;
  width: number;
}
/**
 * The sides against the middle; below a frequency all is mono.
 */
export interface WidthProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "width";
  /**
   * 0 % mono, 100 % as it is.
   */
  width: number;
  /**
   * 10 Hz: nowhere.
   */
  mono_below_hz: number;
  /**
   * How fast the sides fade below; -6 dB there.
   */
  slope_db: 12 | 24 | 48;
}
/**
 * A mono signal made wide: all-passed copies of its middle on both sides, opposite in polarity.
 *
 * They cancel in mono, where the signal is as it was before.
 */
export interface WidenerProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "widener";
  amount: number;
  /**
   * Lows below it stay in the middle.
   */
  above_hz: number;
}
/**
 * All that comes in, from its end to its start.
 */
export interface ReverseProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "reverse";
  /**
   * The start of the sound is now its end, and often a step.
   */
  fade_s: number;
}
/**
 * Parallel chains: the input goes through each branch, and their outputs are summed.
 */
export interface ForkProcessor {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  on: boolean;
  mix: number;
  level_db: number;
  /**
   * The output gets the loudness of the input.
   */
  keep_loudness: boolean;
  /**
   * The other side of the split stays dry.
   */
  band: "all" | "above" | "below";
  split_hz: number;
  kind: "fork";
  branches: Branch[];
}
/**
 * One way through a fork; without processors it is the dry signal.
 */
export interface Branch {
  id: string;
  name: string;
  on: boolean;
  level_db: number;
  chain: (
    | EqualiserProcessor
    | FilterProcessor
    | TiltProcessor
    | FormantProcessor
    | CombProcessor
    | ResonatorsProcessor
    | DriveProcessor
    | ReducerProcessor
    | ShifterProcessor
    | CompressorProcessor
    | MultibandProcessor
    | TransientProcessor
    | GateProcessor
    | GainProcessor
    | FadeProcessor
    | CeilingProcessor
    | ChorusProcessor
    | FlangerProcessor
    | PhaserProcessor
    | VibratoProcessor
    | DelayProcessor
    | PitchDelayProcessor
    | RoomProcessor
    | ShimmerProcessor
    | ConvolutionProcessor
    | BlurProcessor
    | WidthProcessor
    | WidenerProcessor
    | ReverseProcessor
    | ForkProcessor
  )[];
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
   * Its chain works on each note by itself, with that note's movers and key; otherwise it hears all notes together.
   */
  each_note: boolean;
  /**
   * Low and high part have a chain each and are summed in phase.
   */
  split: boolean;
  crossover_hz: number;
  low_db: number;
  high_db: number;
  level_db: number;
  chain: (
    | EqualiserProcessor
    | FilterProcessor
    | TiltProcessor
    | FormantProcessor
    | CombProcessor
    | ResonatorsProcessor
    | DriveProcessor
    | ReducerProcessor
    | ShifterProcessor
    | CompressorProcessor
    | MultibandProcessor
    | TransientProcessor
    | GateProcessor
    | GainProcessor
    | FadeProcessor
    | CeilingProcessor
    | ChorusProcessor
    | FlangerProcessor
    | PhaserProcessor
    | VibratoProcessor
    | DelayProcessor
    | PitchDelayProcessor
    | RoomProcessor
    | ShimmerProcessor
    | ConvolutionProcessor
    | BlurProcessor
    | WidthProcessor
    | WidenerProcessor
    | ReverseProcessor
    | ForkProcessor
  )[];
  low_chain: (
    | EqualiserProcessor
    | FilterProcessor
    | TiltProcessor
    | FormantProcessor
    | CombProcessor
    | ResonatorsProcessor
    | DriveProcessor
    | ReducerProcessor
    | ShifterProcessor
    | CompressorProcessor
    | MultibandProcessor
    | TransientProcessor
    | GateProcessor
    | GainProcessor
    | FadeProcessor
    | CeilingProcessor
    | ChorusProcessor
    | FlangerProcessor
    | PhaserProcessor
    | VibratoProcessor
    | DelayProcessor
    | PitchDelayProcessor
    | RoomProcessor
    | ShimmerProcessor
    | ConvolutionProcessor
    | BlurProcessor
    | WidthProcessor
    | WidenerProcessor
    | ReverseProcessor
    | ForkProcessor
  )[];
}
/**
 * A further way of what comes out of a layer, a processor or a bus, at a level of its own.
 */
export interface Send {
  id: string;
  source: string;
  to: string;
  on: boolean;
  level_db: number;
}
/**
 * The main output: all that leads to it is summed and goes through this chain.
 */
export interface Main {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  chain: (
    | EqualiserProcessor
    | FilterProcessor
    | TiltProcessor
    | FormantProcessor
    | CombProcessor
    | ResonatorsProcessor
    | DriveProcessor
    | ReducerProcessor
    | ShifterProcessor
    | CompressorProcessor
    | MultibandProcessor
    | TransientProcessor
    | GateProcessor
    | GainProcessor
    | FadeProcessor
    | CeilingProcessor
    | ChorusProcessor
    | FlangerProcessor
    | PhaserProcessor
    | VibratoProcessor
    | DelayProcessor
    | PitchDelayProcessor
    | RoomProcessor
    | ShimmerProcessor
    | ConvolutionProcessor
    | BlurProcessor
    | WidthProcessor
    | WidenerProcessor
    | ReverseProcessor
    | ForkProcessor
  )[];
  level_db: number;
  /**
   * What goes past the main chain joins it before its last limiter.
   */
  limit_all: boolean;
  /**
   * A check warns where the sound lasts longer; 0: no limit.
   */
  end_by_s: number;
}
/**
 * How several notes of a sound go together, and between which it is right.
 */
export interface Playing {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  good_low: number;
  good_high: number;
  /**
   * Poly: all sound. Mono: the newest ends the one before. Legato: a note played into another goes on with its curves.
   */
  way: "poly" | "mono" | "legato";
  /**
   * Time to slide from one note to the next; mono and legato only.
   */
  glide_s: number;
}
/**
 * A few notes inside one hit: a roll or a flourish.
 */
export interface Pattern {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  order: "off" | "repeat" | "up" | "down" | "up_down";
  /**
   * 0: as many as fit into the hold.
   */
  notes: number;
  /**
   * Range of the up and down patterns.
   */
  octaves: number;
  sync: boolean;
  beats: number;
  every_s: number;
  /**
   * Part of the step for which a note is held; above 100 % it overlaps the next.
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
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  name: string;
  kind: "curve";
  curve: Curve1;
}
/**
 * A cycle that goes round at a rate, or in beats.
 */
export interface LfoMover {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  name: string;
  kind: "lfo";
  shape: "sine" | "triangle" | "saw_up" | "saw_down" | "square" | "stepped" | "smooth" | "drawn";
  sync: boolean;
  /**
   * 0 Hz stands still until a link moves it.
   */
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
   * Each hit starts at another place in the cycle.
   */
  free: boolean;
  drawn: Curve1;
}
/**
 * Values one after the other, round and round.
 */
export interface StepsMover {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  name: string;
  kind: "steps";
  values: number[];
  skipped: boolean[];
  sync: boolean;
  beats: number;
  rate_hz: number;
  /**
   * Share of a step spent gliding to it.
   */
  glide: number;
}
/**
 * Another value each hit; with a rate, wandering within the hit.
 */
export interface RandomMover {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  name: string;
  kind: "random";
  spread: "uniform" | "normal";
  /**
   * 0 Hz: one value for the whole hit; otherwise new values at this rate, smoothed.
   */
  rate_hz: number;
  /**
   * Numbers that are set once a hit get another value for each note too.
   */
  each_note: boolean;
}
/**
 * -1 at the lowest key of its range, 1 at the highest.
 */
export interface NoteMover {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
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
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  name: string;
  kind: "velocity";
}
/**
 * 0 for a tap, 1 from a hold of ``longest_s`` on.
 */
export interface HoldMover {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  name: string;
  kind: "hold";
  longest_s: number;
}
/**
 * The level of a layer, 0 in silence, 1 at full scale; or of a pulse pattern in beats.
 */
export interface FollowerMover {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
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
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  id: string;
  name: string;
  kind: "voice";
}
/**
 * One value from 0 to 1 that drives whatever is linked to it.
 */
export interface MacroMover {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
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
  /**
   * Plain: frequencies in octaves, all else in its own unit. Linear: frequencies in Hz. Amplitude: a level from silence at 0 to as it is set at 1.
   */
  law: "plain" | "linear" | "amplitude";
}
/**
 * One performance of a sound. All its notes are let go at the end of its hold.
 */
export interface Hit {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  note: number;
  velocity: number;
  hold_s: number;
  /**
   * Length of a seamless loop of the held sound; 0: the sound is played to its end.
   */
  loop_s: number;
  number: number;
  further: FurtherNote[];
}
/**
 * A note beside the hit's own: at once it makes a chord, later it follows.
 */
export interface FurtherNote {
  /**
   * Times that are kept as beats, by name; the seconds beside them follow the tempo.
   */
  in_beats?: {
    [k: string]: number;
  };
  /**
   * Seconds that lie between those beats and the time: two beats after an attack of 5 ms.
   */
  and_seconds?: {
    [k: string]: number;
  };
  note: number;
  at_s: number;
}
/**
 * What the sound shall come near; nothing of it is heard in the sound.
 */
export interface Reference {
  recording: string;
  name: string;
  left_out: LeftOut[];
}
/**
 * A stretch of a reference that is excluded: another sound, a loop.
 */
export interface LeftOut {
  start_s: number;
  end_s: number;
}
