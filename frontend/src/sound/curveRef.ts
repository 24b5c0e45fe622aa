import type { Curve, Mover, Sound } from "../api";
import type { Unit } from "../ui";
import { keptInBeats } from "./beats";
import { withLayer } from "./edits";
import { withMover } from "./moverEdits";

/** The curves that stand in every layer. */
export type LayerCurve = "level" | "pitch";
export type CurveName = LayerCurve | "mover";

/** Which curve is meant: a layer's, the sound's common pitch where no layer is named, or a mover's. */
export type CurveRef =
  | { layerId: string | null; name: LayerCurve }
  | { layerId?: undefined; name: "mover"; moverId: string };

export const COMMON_PITCH: CurveRef = { layerId: null, name: "pitch" };

/** What a curve's values are. */
export interface CurveKind {
  label: string;
  unit: Unit;
  limits: [number, number];
  /** By which a key moves a value. */
  step: number;
  /** Where a curve of one value stands, and a new one begins. */
  neutral: number;
}

export const CURVE_KINDS: Record<CurveName, CurveKind> = {
  level: { label: "Level", unit: "percent", limits: [0, 1], step: 0.01, neutral: 1 },
  pitch: { label: "Pitch", unit: "st", limits: [-120, 120], step: 1, neutral: 0 },
  mover: { label: "Value", unit: "percent", limits: [-1, 1], step: 0.01, neutral: 0 },
};

export const curveKey = (ref: CurveRef) =>
  ref.name === "mover" ? `${ref.moverId}.mover` : `${ref.layerId ?? ""}.${ref.name}`;

/** The curve that a mover draws: its own, or one cycle of an LFO. */
export function drawnBy(mover: Mover): Curve | undefined {
  if (mover.kind === "curve") return mover.curve;
  return mover.kind === "lfo" ? mover.drawn : undefined;
}

export function curveAt(sound: Sound, ref: CurveRef): Curve | undefined {
  if (ref.name === "mover") {
    const mover = sound.movers.find(({ id }) => id === ref.moverId);
    return mover && drawnBy(mover);
  }
  if (ref.layerId === null) return sound.pitch;
  return sound.layers.find(({ id }) => id === ref.layerId)?.[ref.name];
}

export function withCurve(sound: Sound, ref: CurveRef, change: (curve: Curve) => Curve): Sound {
  const made = (curve: Curve) => keptInBeats(change(curve), sound.tempo_bpm);
  if (ref.name === "mover")
    return withMover(sound, ref.moverId, (mover) => {
      if (mover.kind === "curve") return { ...mover, curve: made(mover.curve) };
      return mover.kind === "lfo" ? { ...mover, drawn: made(mover.drawn) } : mover;
    });
  if (ref.layerId === null) return { ...sound, pitch: made(sound.pitch) };
  return withLayer(sound, ref.layerId, (layer) => ({
    ...layer,
    [ref.name]: made(layer[ref.name]),
  }));
}

/** What the history calls a curve: "Body, pitch curve". */
export function curveWords(sound: Sound, ref: CurveRef): string {
  if (ref.name === "mover")
    return sound.movers.find(({ id }) => id === ref.moverId)?.name ?? "Mover";
  if (ref.layerId === null) return "Common pitch curve";
  const layer = sound.layers.find(({ id }) => id === ref.layerId);
  return `${layer?.name ?? "Layer"}, ${ref.name} curve`;
}
