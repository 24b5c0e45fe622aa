import type { Curve, Sound } from "../api";
import { keptInBeats } from "./beats";
import { withLayer } from "./edits";

export type CurveName = "level" | "pitch";

/** Which curve is meant: a layer's, or the sound's common pitch where no layer is named. */
export interface CurveRef {
  layerId: string | null;
  name: CurveName;
}

export const COMMON_PITCH: CurveRef = { layerId: null, name: "pitch" };

export const curveKey = ({ layerId, name }: CurveRef) => `${layerId ?? ""}.${name}`;

export function curveAt(sound: Sound, { layerId, name }: CurveRef): Curve | undefined {
  if (layerId === null) return sound.pitch;
  return sound.layers.find(({ id }) => id === layerId)?.[name];
}

export function withCurve(
  sound: Sound,
  { layerId, name }: CurveRef,
  change: (curve: Curve) => Curve,
): Sound {
  const made = (curve: Curve) => keptInBeats(change(curve), sound.tempo_bpm);
  if (layerId === null) return { ...sound, pitch: made(sound.pitch) };
  return withLayer(sound, layerId, (layer) => ({ ...layer, [name]: made(layer[name]) }));
}

/** What the history calls a curve: "Body, pitch curve". */
export function curveWords(sound: Sound, ref: CurveRef): string {
  if (ref.layerId === null) return "Common pitch curve";
  const layer = sound.layers.find(({ id }) => id === ref.layerId);
  return `${layer?.name ?? "Layer"}, ${ref.name} curve`;
}

/** Smallest and largest value a point of such a curve may have. */
export const valueLimits = (name: CurveName): [number, number] =>
  name === "level" ? [0, 1] : [-120, 120];
