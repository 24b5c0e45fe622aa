import type { Processor } from "../../../api";

const MOST_STATES = 12;

/** A part with a number put at a path in it. */
function put<Part extends object>(part: Part, [name = "", ...rest]: string[], value: number): Part {
  const inner = (part as Record<string, unknown>)[name];
  const next =
    rest.length > 0 && typeof inner === "object" && inner ? put(inner, rest, value) : value;
  return { ...part, [name]: next };
}

/** A processor as movement makes it at some moments of the hit; none where nothing moves it. */
export function sweptStates(part: Processor, moved: Record<string, number[][]>): Processor[] {
  const traces = Object.entries(moved).flatMap(([target, trace]) => {
    const [id, ...path] = target.split(".");
    return id === part.id && path.length > 0 ? [{ path, trace }] : [];
  });
  const longest = Math.max(0, ...traces.map(({ trace }) => trace.length));
  if (longest === 0) return [];
  const count = Math.min(MOST_STATES, longest);
  return Array.from({ length: count }, (_, n) => {
    return traces.reduce((state, { path, trace }) => {
      const at = Math.round((n / Math.max(1, count - 1)) * (trace.length - 1));
      return put(state, path, trace[at]?.[1] ?? 0);
    }, part);
  });
}
