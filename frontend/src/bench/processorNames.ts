import type { Processor } from "../api/types";

export const PROCESSOR_NAMES: Record<Processor["kind"], string> = {
  filter: "Filter",
  drive: "Drive",
  comb: "Comb",
  formant: "Formants",
  compressor: "Compressor",
  chorus: "Chorus",
  delay: "Delay",
  room: "Room",
  shifter: "Shifter",
  width: "Width",
  ceiling: "Ceiling",
};
