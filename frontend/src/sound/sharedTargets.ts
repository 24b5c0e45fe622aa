import type { Sound } from "../api";
import type { Target } from "./targets";

/** One number of several layers, moved together: the pitch of all of them. */
export interface SharedTarget {
  /** With a star for the layer. */
  target: string;
  label: string;
  members: Target[];
}

/** Numbers that two layers or more have, in the order of the first layer's. */
export function sharedTargets(sound: Sound, targets: Target[]): SharedTarget[] {
  const layers = new Set(sound.layers.map(({ id }) => id));
  const found = new Map<string, SharedTarget>();
  for (const one of targets) {
    const [owner = "", ...path] = one.target.split(".");
    if (!layers.has(owner)) continue;
    const target = `*.${path.join(".")}`;
    const shared = found.get(target) ?? { target, label: one.parameter.label, members: [] };
    shared.members.push(one);
    found.set(target, shared);
  }
  return [...found.values()].filter(({ members }) => members.length > 1);
}
