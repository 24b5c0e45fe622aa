import type { PlacedHit, TryOutPart } from "../api";
import { choose, useTryOut } from "../loop";
import { formatValue, noteName } from "../ui";

const MOST_ROWS = 200;

/** All hits of a part in order of time, each to be chosen. */
export function HitTable({ part, hits }: { part: TryOutPart; hits: number[] }) {
  const document = useTryOut((state) => state.document);
  if (!document || part.hits.length === 0) return null;
  const order = part.hits
    .map((hit, n) => ({ hit, n }))
    .sort((a, b) => a.hit.at_s - b.hit.at_s)
    .slice(0, MOST_ROWS);
  const past = part.hits.filter(({ at_s }) => at_s >= document.length_s).length;
  return (
    <div>
      <table className="figure w-full text-[11.5px]">
        <thead>
          <tr className="text-left text-ink-2">
            <th className="font-normal">At</th>
            <th className="font-normal">Velocity</th>
            <th className="font-normal">Note</th>
            <th className="font-normal">Chance</th>
          </tr>
        </thead>
        <tbody>
          {order.map(({ hit, n }) => (
            <tr
              key={n}
              aria-selected={hits.includes(n)}
              className={
                hits.includes(n) ? "bg-band" : hit.at_s >= document.length_s ? "text-warn" : ""
              }
            >
              <td>
                <button
                  type="button"
                  className="min-h-6 underline decoration-dotted"
                  onClick={() => choose({ kind: "hits", part: part.id, hits: [n] })}
                >
                  {placeWords(hit, document.beats_a_bar)}
                </button>
              </td>
              <td>{hit.velocity}</td>
              <td>{hit.notes.map((note) => noteName(note)).join(" ") || "own"}</td>
              <td>{formatValue(hit.chance, "percent")}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {past > 0 && (
        <p className="text-[12px] text-warn">
          {past === 1 ? "One hit begins" : `${past} hits begin`} past the end and{" "}
          {past === 1 ? "is" : "are"} not heard.
        </p>
      )}
      {part.hits.length > MOST_ROWS && (
        <p className="text-[12px] text-ink-2">
          The first {MOST_ROWS} of {part.hits.length} are listed.
        </p>
      )}
    </div>
  );
}

/** Bar, beat and share of a beat; or seconds where it is kept so. */
function placeWords(hit: PlacedHit, beatsABar: number): string {
  const beats = hit.in_beats?.["at_s"];
  if (beats === undefined) return formatValue(hit.at_s, "s");
  const bar = Math.floor(beats / beatsABar);
  const rest = beats - bar * beatsABar + 1;
  return `${bar + 1}.${Number(rest.toFixed(3))}`;
}
