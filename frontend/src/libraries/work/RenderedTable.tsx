import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef } from "react";
import type { RerenderRow } from "../../api";
import { Waiting } from "../../ui";
import { COLUMNS, RenderedRow } from "./RenderedRow";

const ROW_HEIGHT = 33;
// With the longest figures whole; the name has what is left.
const HEADS = [
  ["Replace", "w-9"],
  ["Sample", ""],
  ["Listen", "w-[128px]"],
  ["Revision", "w-[72px]"],
  ["Loudness, note", "w-[284px]"],
  ["Difference", "w-[160px]"],
] as const;

interface Props {
  jobId: number;
  rows: RerenderRow[];
  left: ReadonlySet<number>;
  onToggle: (sampleId: number) => void;
  stayed: ReadonlyMap<number, string>;
  /** Whether there is nothing yet, but will be. */
  waits: boolean;
}

/** All new renders, thousands if need be: up and down play the next, left and right the other side. */
export function RenderedTable({ jobId, rows, left, onToggle, stayed, waits }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const shown = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 8,
  });
  const items = shown.getVirtualItems();
  const above = items[0]?.start ?? 0;
  const below = shown.getTotalSize() - (items.at(-1)?.end ?? 0);
  return (
    <div
      ref={box}
      onKeyDown={listen}
      className="mt-3 h-[300px] overflow-y-auto rounded-control border border-line bg-sheet"
    >
      <table className="w-full table-fixed text-[12.5px]">
        <thead className="sticky top-0 z-10 bg-panel">
          <tr className="text-left text-[11.5px] text-ink-2">
            {HEADS.map(([head, width]) => (
              <th key={head} className={`px-2 py-1 font-normal ${width}`}>
                {/* A box says by itself what it is for. */}
                {head === "Replace" ? <span className="sr-only">{head}</span> : head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <Spacer height={above} />
          {items.map(({ index }) => {
            const row = rows[index];
            return (
              row && (
                <tr
                  key={row.position}
                  style={{ height: ROW_HEIGHT }}
                  className="border-t border-line"
                >
                  <RenderedRow
                    jobId={jobId}
                    row={row}
                    chosen={!left.has(row.sample_id)}
                    onChoose={() => onToggle(row.sample_id)}
                    stayed={stayed.get(row.sample_id)}
                  />
                </tr>
              )
            );
          })}
          <Spacer height={below} />
        </tbody>
      </table>
      {rows.length === 0 && waits && (
        <Waiting words="The first results take a few seconds" lines={0} />
      )}
    </div>
  );
}

function Spacer({ height }: { height: number }) {
  return height > 0 ? (
    <tr aria-hidden style={{ height }}>
      <td colSpan={COLUMNS} />
    </tr>
  ) : null;
}

/** Arrow keys among the buttons that play: the next row's of the same side, or the row's other. */
function listen(event: React.KeyboardEvent<HTMLDivElement>) {
  const at = event.target instanceof HTMLElement ? event.target.dataset.side : undefined;
  if (at === undefined || !event.key.startsWith("Arrow")) return;
  event.preventDefault();
  const across = event.key === "ArrowLeft" || event.key === "ArrowRight";
  const side = across ? (event.key === "ArrowLeft" ? "Now" : "New") : at;
  const within = across ? (event.target as HTMLElement).closest("tr") : event.currentTarget;
  const buttons = [...(within?.querySelectorAll<HTMLElement>(`[data-side="${side}"]`) ?? [])];
  const step = across ? 0 : event.key === "ArrowDown" ? 1 : -1;
  const next = buttons[across ? 0 : buttons.indexOf(event.target as HTMLElement) + step];
  next?.focus();
  next?.click();
}
