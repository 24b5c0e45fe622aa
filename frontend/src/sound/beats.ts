import type { Curve, CurvePoint } from "../api";

/** Times that are kept as beats: the seconds beside them follow the tempo. */

interface Timed {
  in_beats?: Record<string, number>;
  and_seconds?: Record<string, number>;
}

/** A time as the beats and the seconds that it is kept as. */
export interface BeatTime {
  beats: number;
  seconds: number;
}

/** How a time of a part is kept; undefined where it is in seconds alone. */
export function beatTimeOf(part: object, name: string): BeatTime | undefined {
  const { in_beats, and_seconds } = part as Timed;
  const beats = in_beats?.[name];
  return beats === undefined ? undefined : { beats, seconds: and_seconds?.[name] ?? 0 };
}

/** The beats in which a time of a part is kept; undefined where there are seconds to it. */
export function beatsOf(part: object, name: string): number | undefined {
  const kept = beatTimeOf(part, name);
  return kept?.seconds === 0 ? kept.beats : undefined;
}

const without = (times: Record<string, number> | undefined, name: string) =>
  Object.fromEntries(Object.entries(times ?? {}).filter(([key]) => key !== name));

/** A patch that sets a time in seconds, or in beats where they are given. */
export function timePatch(
  part: object,
  name: string,
  seconds: number,
  beats?: number,
): Record<string, unknown> {
  const { in_beats: now, and_seconds: more } = part as Timed;
  const rest = more ? { and_seconds: without(more, name) } : {};
  const kept = without(now, name);
  if (beats === undefined)
    return now ? { [name]: seconds, in_beats: kept, ...rest } : { [name]: seconds };
  return { [name]: seconds, in_beats: { ...kept, [name]: beats }, ...rest };
}

/** A document whose times in beats are those at its tempo; the same where they are already. */
export const withBeatTimes = <Timed extends { tempo_bpm: number }>(document: Timed): Timed =>
  timed(document, 60 / document.tempo_bpm);

function timed<Node>(node: Node, beatS: number): Node {
  if (Array.isArray(node)) {
    const made = node.map((one: unknown) => timed(one, beatS));
    return made.some((one, n) => one !== node[n]) ? (made as Node) : node;
  }
  if (typeof node !== "object" || node === null) return node;
  const before = node as Record<string, unknown>;
  let changed: Record<string, unknown> | null = null;
  for (const [name, value] of Object.entries(before)) {
    const kept = beatTimeOf(node, name);
    const next = kept ? kept.beats * beatS + kept.seconds : timed(value, beatS);
    const same = kept ? Math.abs(Number(next) - Number(value)) < 1e-12 : next === value;
    if (!same) changed = { ...(changed ?? before), [name]: next };
  }
  return (changed ?? node) as Node;
}

/** Points that were moved and are kept as beats have the beats of where they are now. */
export function keptInBeats(curve: Curve, tempoBpm: number): Curve {
  const kept = (point: CurvePoint): CurvePoint => {
    const before = beatTimeOf(point, "time_s");
    if (!before) return point;
    const expected = (before.beats * 60) / tempoBpm + before.seconds;
    if (Math.abs(expected - point.time_s) < 1e-9) return point;
    const rounded = Math.round(((point.time_s * tempoBpm) / 60) * 1000) / 1000;
    return { ...point, ...timePatch(point, "time_s", (rounded * 60) / tempoBpm, rounded) };
  };
  const points = curve.points.map(kept);
  const release = curve.release.map(kept);
  const same =
    points.every((one, n) => one === curve.points[n]) &&
    release.every((one, n) => one === curve.release[n]);
  return same ? curve : { ...curve, points, release };
}
