import type { Curve, CurvePoint, Sound } from "../api";

/** Times that are kept as beats: the seconds beside them follow the tempo. */

interface Timed {
  in_beats?: Record<string, number>;
}

/** The beats in which a time of a part is kept; undefined where it is in seconds. */
export const beatsOf = (part: object, name: string): number | undefined =>
  (part as Timed).in_beats?.[name];

/** A patch that sets a time in seconds, or in beats where they are given. */
export function timePatch(
  part: object,
  name: string,
  seconds: number,
  beats?: number,
): Record<string, unknown> {
  const { in_beats: now } = part as Timed;
  const kept = Object.fromEntries(Object.entries(now ?? {}).filter(([key]) => key !== name));
  if (beats === undefined) return now ? { [name]: seconds, in_beats: kept } : { [name]: seconds };
  return { [name]: seconds, in_beats: { ...kept, [name]: beats } };
}

/** A sound whose times in beats are those at its tempo; the same where they are already. */
export const withBeatTimes = (sound: Sound): Sound => timed(sound, 60 / sound.tempo_bpm);

function timed<Node>(node: Node, beatS: number): Node {
  if (Array.isArray(node)) {
    const made = node.map((one: unknown) => timed(one, beatS));
    return made.some((one, n) => one !== node[n]) ? (made as Node) : node;
  }
  if (typeof node !== "object" || node === null) return node;
  const { in_beats: beats } = node as Timed;
  const before = node as Record<string, unknown>;
  let changed: Record<string, unknown> | null = null;
  for (const [name, value] of Object.entries(before)) {
    const kept = beats?.[name];
    const next = kept === undefined ? timed(value, beatS) : kept * beatS;
    const same =
      kept === undefined ? next === value : Math.abs(kept * beatS - Number(value)) < 1e-12;
    if (!same) changed = { ...(changed ?? before), [name]: next };
  }
  return (changed ?? node) as Node;
}

/** Points that were moved and are kept as beats have the beats of where they are now. */
export function keptInBeats(curve: Curve, tempoBpm: number): Curve {
  const kept = (point: CurvePoint): CurvePoint => {
    const beats = beatsOf(point, "time_s");
    const now = (point.time_s * tempoBpm) / 60;
    if (beats === undefined || Math.abs(beats - now) < 1e-9) return point;
    const rounded = Math.round(now * 1000) / 1000;
    return { ...point, time_s: (rounded * 60) / tempoBpm, in_beats: { time_s: rounded } };
  };
  const points = curve.points.map(kept);
  const release = curve.release.map(kept);
  const same =
    points.every((one, n) => one === curve.points[n]) &&
    release.every((one, n) => one === curve.release[n]);
  return same ? curve : { ...curve, points, release };
}
