import type { Sound } from "./types";

/** The body that asks for anything rendered from a sound: its own hit, as it will be kept. */
export const renderRequest = (document: Sound, quality: "draft" | "final" = "final") => ({
  document: { ...document },
  hit: null,
  quality,
  sample_rate: 48000,
});
