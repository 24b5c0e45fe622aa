import type { Sound } from "../../api";

/** Something that typing finds. */
export interface Entry {
  key: string;
  label: string;
  /** What it is: Processor, Parameter, Command, Sound, Chain. */
  group: string;
  /** Other words it is found by. */
  words: string;
  act: () => void;
  /** The sound with it, where it can be tried before. */
  tried?: (sound: Sound) => Sound;
}
