import type { GameRun } from "../api";
import { formatValue } from "../ui";

/** How alike neighbours of a run are, and what would help. */
export function Neighbours({ run, apart }: { run: GameRun; apart: number }) {
  const most = Math.max(apart * 1.5, ...run.distances);
  const pair = run.alike[0];
  return (
    <div className="grid gap-2">
      <div className="flex items-baseline justify-between">
        <h3 className="font-title text-[15px] font-semibold">Neighbours heard</h3>
        <span className="text-[12px] text-ink-2">
          distance of features; lower is more alike, below {apart} in rust
        </span>
      </div>
      <div
        role="img"
        aria-label={`Distances of ${run.distances.length} neighbours; ${run.below} below ${apart}`}
        className="flex h-[72px] items-end gap-px overflow-hidden"
      >
        {run.distances.map((distance, n) => (
          <span
            key={n}
            className="min-w-px flex-1"
            style={{
              height: `${Math.max(3, (100 * distance) / most)}%`,
              background: distance < apart ? "var(--rust)" : "var(--plum)",
            }}
          />
        ))}
      </div>
      <ul className="grid gap-x-6 text-[12.5px] sm:grid-cols-2">
        <li>
          {run.below === 0
            ? `All neighbours are at least ${apart} apart.`
            : `${run.below} of ${run.distances.length} neighbours are nearer than ${apart}.`}
        </li>
        <li>{repeatWords(run)}</li>
        <li>{neededWords(run, apart)}</li>
        <li>
          At this distance: {formatValue(run.distance_gain_db, "dB")}, high cut{" "}
          {formatValue(run.high_cut_hz, "Hz")}.
        </li>
      </ul>
      {pair && (
        <table className="w-full text-[12.5px]">
          <caption className="text-left text-[12px] text-ink-2">The most alike</caption>
          <tbody>
            {run.alike.map((one) => (
              <tr key={`${one.first} ${one.second}`} className="border-t border-line">
                <td className="py-0.5">
                  {one.first === one.second
                    ? `${one.first}, twice in a row`
                    : `${one.first} and ${one.second}`}
                </td>
                <td className="figure text-right">{one.distance.toFixed(2)}</td>
                <td className="figure text-right text-ink-2">{one.times}×</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

function repeatWords(run: GameRun): string {
  if (run.soonest_repeat === null || run.soonest_repeat_s === null)
    return "No file is heard twice.";
  const median = run.median_repeat === null ? "" : `, mostly after ${run.median_repeat.toFixed(0)}`;
  return `The same file comes again after ${run.soonest_repeat} hits (${formatValue(run.soonest_repeat_s, "s")}) at the soonest${median}.`;
}

function neededWords(run: GameRun, apart: number): string {
  if (run.apart_count === run.variations)
    return `All ${run.variations} variations are at least ${apart} apart.`;
  const some = `${run.apart_count} of ${run.variations} variations are all ${apart} apart`;
  return run.needed === null
    ? `${some}; more of the same kind would hardly help, make them more different.`
    : `${some}; about ${run.needed} made the same way would hold ${run.variations} that are.`;
}
