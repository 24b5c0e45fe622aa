import type { Curve, Layer, Sound } from "../../api";
import { timePatch } from "../../sound";

/**
 * A level curve that rises for so long: from silence to its first point, and all later points that
 * much later. One that rises for longer already stays as it is.
 */
function risingFor(curve: Curve, seconds: number): Curve {
  const [first, second] = curve.points;
  if (!first) return curve;
  const begins = first.time_s === 0 && first.value === 0;
  const top = begins ? second : first;
  if (!top || top.time_s >= seconds) return curve;
  const later = seconds - top.time_s;
  const points = curve.points.slice(begins ? 1 : 0).map((point) => ({
    ...point,
    ...timePatch(point, "time_s", point.time_s + later),
  }));
  return { ...curve, points: [{ ...first, time_s: 0, value: 0 }, ...points] };
}

/** A sound whose layers all rise for at least so long. */
export const withAttack = (sound: Sound, seconds: number): Sound => ({
  ...sound,
  layers: sound.layers.map((layer): Layer => ({
    ...layer,
    level: risingFor(layer.level, seconds),
  })),
});
