/* Made by scripts/document-types.mjs from docs/batch.schema.json; not edited by hand. */

/**
 * A plan of a family; the same plan and engine give the same bytes.
 */
export interface BatchPlan {
  schema_version: 1;
  name: string;
  seed: number;
  /**
   * Scales every spread around the value that the sound has.
   */
  difference: number;
  sounds: PlannedSound[];
  members: MemberRules;
  /**
   * A later round draws around these.
   */
  around: Centre[];
  /**
   * And far from these.
   */
  away: Centre[];
  /**
   * Width of the spreads around picked members, of that around the original.
   */
  narrow: number;
}
/**
 * A sound of the plan: one of a library by its id, at a revision, or one that stands here.
 */
export interface PlannedSound {
  id: string;
  sound: number | null;
  /**
   * None: the draft when a round is run, which is kept as a revision then.
   */
  revision: number | null;
  /**
   * The sound itself, so that the plan can be run without a library.
   */
  document?: {
    [k: string]: unknown;
  } | null;
  axes: Axis[];
  spreads: Spread[];
  /**
   * For each step of the axes.
   */
  draws: number;
}
/**
 * One thing that is varied in steps; axes multiply. Either ``values``, or all from ``first``
 * to ``last`` by ``step``.
 */
export interface Axis {
  kind: "note" | "velocity" | "hold" | "hit" | "macro" | "rate";
  /**
   * Which macro, by id.
   */
  macro?: string;
  values: number[];
  first: number | null;
  last: number | null;
  step: number;
}
/**
 * A number that is scattered between ``low`` and ``high``, in its own unit.
 */
export interface Spread {
  /**
   * As a link names it: ``body.cutoff_hz``.
   */
  target: string;
  low: number;
  high: number;
  /**
   * Even, a bell around the middle, or towards an end.
   */
  shape: "even" | "bell" | "low" | "high";
  /**
   * Spreads of one name are drawn alike: high with high, low with low.
   */
  together: string;
}
/**
 * What every member gets when it is finished and kept.
 */
export interface MemberRules {
  /**
   * Integrated; None: each as loud as it comes.
   */
  loudness_lufs: number | null;
  /**
   * True peak of every member.
   */
  ceiling_db: number;
  trim: boolean;
  fade_s: number;
  name: string;
  /**
   * The variation group; empty: the plan's name.
   */
  group: string;
  category: string;
  tags: string[];
}
/**
 * A member around which, or away from which, is drawn: its values by target.
 */
export interface Centre {
  values: {
    [k: string]: number;
  };
}
