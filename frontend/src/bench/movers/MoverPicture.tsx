import type { Mover } from "../../api";
import { useBench } from "../../sound";

const WIDTH = 282;
const HEIGHT = 54;

/** How the mover goes over the hit, as the engine made it: the trace of what it moves first. */
export function MoverPicture({ mover }: { mover: Mover }) {
  const target = useBench(
    (state) => state.document?.links.find((link) => link.mover === mover.id)?.target,
  );
  const trace = useBench((state) => (target ? state.details?.moved[target] : undefined));
  if (!trace || trace.length < 2) return null;
  const values = trace.map(([, value = 0]) => value);
  const end = trace.at(-1)?.[0] ?? 1;
  const low = Math.min(...values);
  const span = Math.max(1e-9, Math.max(...values) - low);
  const d = trace
    .map(
      ([timeS = 0, value = 0], n) =>
        `${n === 0 ? "M" : "L"}${((timeS / end) * WIDTH).toFixed(1)} ${(HEIGHT - 5 - ((value - low) / span) * (HEIGHT - 10)).toFixed(1)}`,
    )
    .join("");
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`How ${mover.name} moves its first target`}
      className="mt-2 w-full rounded-control border border-line bg-sheet"
    >
      <path d={d} fill="none" stroke="var(--action)" strokeWidth={1.5} />
    </svg>
  );
}
