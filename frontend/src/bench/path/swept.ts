import type { Processor } from "../../api/types";

const MOST_STATES = 12;

/** A processor as movement makes it at some moments of the hit; none where nothing moves it. */
export function sweptStates(part: Processor, moved: Record<string, number[][]>): Processor[] {
  const traces = Object.entries(moved).flatMap(([target, trace]) => {
    const [id, name] = target.split(".");
    return id === part.id && name !== undefined ? [{ name, trace }] : [];
  });
  const longest = Math.max(0, ...traces.map(({ trace }) => trace.length));
  if (longest === 0) return [];
  const count = Math.min(MOST_STATES, longest);
  return Array.from({ length: count }, (_, n) => {
    const patch = traces.map(({ name, trace }) => {
      const at = Math.round((n / Math.max(1, count - 1)) * (trace.length - 1));
      return [name, trace[at]?.[1] ?? 0] as const;
    });
    return { ...part, ...Object.fromEntries(patch) };
  });
}
