/* Made by scripts/document-types.mjs from docs/tryout.schema.json; not edited by hand. */

/**
 * A try-out, of ``length_s`` seconds or beats.
 */
export interface TryOut {
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
  schema_version: 1;
  name: string;
  tempo_bpm: number;
  beats_a_bar: number;
  beat_value: 2 | 4 | 8 | 16;
  /**
   * Where the second of two steps lies between the beats around them; 50 %: straight.
   */
  swing: number;
  /**
   * 1/16 of a bar of four: 0.25.
   */
  swing_beats: number;
  length_s: number;
  loop: boolean;
  seed: number;
  parts: Part[];
  ducks: Duck[];
  game: GameTest | null;
}
/**
 * A lane: what it plays, when, and how it goes into the mix.
 */
export interface Part {
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
  plays: PlaysSound | PlaysSample | PlaysGroup | PlaysBed;
  hits: PlacedHit[];
  level_db: number;
  pan: number;
  /**
   * All hits of the part are this much later; below 0 earlier.
   */
  offset_s: number;
  /**
   * Each hit rises in so much time.
   */
  attack_s: number;
  /**
   * 20 Hz: off.
   */
  low_cut_hz: number;
  /**
   * 20 kHz: off.
   */
  high_cut_hz: number;
  mute: boolean;
  solo: boolean;
  invert: boolean;
  /**
   * The key that plays the part as one of a kit.
   */
  key: number | null;
  /**
   * A hit ends those of other hits of its group; 0: none.
   */
  choke: number;
  fade_in_s: number;
  fade_out_s: number;
}
/**
 * A sound: a fixed revision, or its draft as it is now.
 */
export interface PlaysSound {
  kind: "sound";
  sound: number;
  revision: number | null;
}
/**
 * A sample of a library.
 */
export interface PlaysSample {
  kind: "sample";
  sample: number;
}
/**
 * Variations of which each hit plays one.
 */
export interface PlaysGroup {
  kind: "group";
  samples: number[];
  /**
   * In turn, at random, at random without the last ones, or by velocity: the first variation for the softest.
   */
  choice: "in_turn" | "random" | "no_repeat" | "velocity";
  /**
   * Only without repeats.
   */
  avoid: number;
  seed: number;
}
/**
 * A loop or an ambience that lies under all else from the start.
 */
export interface PlaysBed {
  kind: "bed";
  sample: number;
  /**
   * 0: it has none, and is played as it is.
   */
  tempo_bpm: number;
  first_beat_s: number;
  /**
   * Stretched to the try-out's tempo at its own pitch.
   */
  follow: boolean;
  loop: boolean;
}
/**
 * One hit of a part; its first note and those that sound with it are a chord.
 */
export interface PlacedHit {
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
  at_s: number;
  /**
   * Empty: the note that the sound has itself; samples are played as they are.
   */
  notes: number[];
  velocity: number;
  /**
   * None: as long as the sound's own hit.
   */
  hold_s: number | null;
  chance: number;
  /**
   * Macros of the sound that stand elsewhere in this hit, by id.
   */
  macros?: {
    [k: string]: number;
  };
}
/**
 * One part pulled down by each hit of another.
 */
export interface Duck {
  part: string;
  by: string;
  amount_db: number;
  attack_s: number;
  hold_s: number;
  release_s: number;
}
/**
 * How a game triggers a variation group: when, which one, at what pitch, level and distance.
 */
export interface GameTest {
  part: string;
  every_from_s: number;
  every_to_s: number;
  /**
   * Up and down, evenly.
   */
  pitch_semitones: number;
  /**
   * Down from full, evenly.
   */
  level_db: number;
  distance_m: number;
  /**
   * Of the features of neighbours.
   */
  apart: number;
  /**
   * The part that lies under it.
   */
  bed: string | null;
}
