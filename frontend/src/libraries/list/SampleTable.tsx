import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { LibraryItem, SampleItem } from "../../api";
import { loadAudio, usePlayer } from "../../audio";
import { Waiting } from "../../ui";
import { BulkBar } from "./BulkBar";
import { SampleDetails } from "../details";
import {
  DetailsDrawer,
  EmptyList,
  keepPlace,
  keptPlace,
  sampleUrl,
  playSample,
  mark,
  toggleMark,
  useSelection,
  useFound,
} from "../common";
import { ROW_GRID, SampleRow } from "./SampleRow";
import { pageOf, useChosenRow } from "./useChosenRow";

const ROW_HEIGHT = 46;

/** Dense, virtual, keyboard first: arrows move and play, Space plays, X selects, Enter opens. */
export function SampleTable({ library }: { library: LibraryItem | undefined }) {
  const { query, marked, chosenId } = useSelection();
  const list = useRef<HTMLDivElement>(null);
  const [pages, setPages] = useState<number[]>([0]);
  const [place, setPlace] = useState(() => keptPlace(query).row);
  const {
    query: settled,
    answer,
    rows: found,
    error,
    stale,
  } = useFound(query, [
    ...pages,
    // Another search begins at its first row again.
    pageOf(chosenId === null ? 0 : place),
  ]);
  const navigate = useNavigate();
  const playing = usePlayer((state) => state.key);
  const failed = usePlayer((state) => state.failedKey);
  const total = answer?.total ?? 0;
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => list.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 10,
    onChange: (instance) => {
      const wanted = [...new Set(instance.getVirtualItems().map(({ index }) => pageOf(index)))];
      setPages((now) => (now.join() === wanted.join() ? now : wanted));
    },
  });
  // Who comes back finds the list where it was; what fits another search best is at its top.
  const came = useRef(false);
  const shown = answer !== undefined;
  useEffect(() => {
    if (!list.current) return;
    list.current.scrollTop = came.current ? 0 : keptPlace(settled).top;
    came.current = true;
  }, [settled, shown]);
  const { index, chosen, go } = useChosenRow({
    query: settled,
    found,
    place,
    onPlace: (to) => {
      setPlace(to);
      keepPlace(settled, { row: to });
      rows.scrollToIndex(to);
    },
    onChosen: (sample, at) => {
      playSample(sample);
      // What comes next is ready before it is asked for.
      for (const near of [found.get(at + 1), found.get(at - 1)])
        if (near && near.length_s < 20) void loadAudio(sampleUrl(near)).catch(() => undefined);
    },
  });

  if (error)
    return (
      <p role="alert" className="p-4 text-bad">
        {error.message}
      </p>
    );
  if (!answer) return <Waiting words="Loading the library" lines={6} />;
  if (total === 0)
    return (
      <div className="flex min-h-0 flex-1 flex-col">
        <BulkBar library={library} total={0} />
        <EmptyList library={library} query={query} />
      </div>
    );

  const open = (sample: SampleItem | undefined) =>
    sample && sample.sound_id !== null && void navigate(`/bench/${sample.sound_id}`);
  const markTo = (to: number) => {
    const [from, end] = [Math.min(index, to), Math.max(index, to)];
    const between = [...found].filter(([n]) => n >= from && n <= end).map(([, { id }]) => id);
    mark([...new Set([...marked, ...between])]);
  };
  const keys = (event: React.KeyboardEvent) => {
    const step = Math.max(1, Math.floor((list.current?.clientHeight ?? 400) / ROW_HEIGHT) - 1);
    const moves: Record<string, number> = {
      ArrowDown: index + 1,
      ArrowUp: index - 1,
      PageDown: index + step,
      PageUp: index - step,
      Home: 0,
      End: total - 1,
      " ": index,
    };
    const to = moves[event.key];
    if (to !== undefined) {
      event.preventDefault();
      if (event.shiftKey) markTo(to);
      go(Math.min(total - 1, Math.max(0, to)));
    } else if (event.key === "Enter") open(chosen);
    else if (event.key === "x" && !event.ctrlKey) {
      if (chosen) toggleMark(chosen.id);
    } else if (event.key === "a" && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      mark([...found.values()].map(({ id }) => id));
    } else if (event.key === "Escape") mark([]);
  };
  return (
    <div className="flex min-h-0 flex-1">
      <div aria-busy={stale} className="flex min-w-0 flex-1 flex-col">
        <BulkBar library={library} total={total} />
        <div
          className={`h-7 shrink-0 border-b border-line bg-panel text-[11.5px] text-ink-2 ${ROW_GRID}`}
          aria-hidden
        >
          <span />
          <span>Name</span>
          <span>Status</span>
          <span className="narrow:hidden">Waveform</span>
          <span className="text-right">Length</span>
          <span className="text-right">Loudness</span>
          <span className="text-right narrow:hidden">Note</span>
        </div>
        <div
          ref={list}
          role="listbox"
          aria-label="Samples"
          aria-multiselectable
          aria-activedescendant={chosen ? `sample-${chosen.id}` : undefined}
          tabIndex={0}
          onKeyDown={keys}
          onScroll={(event) => keepPlace(settled, { top: event.currentTarget.scrollTop })}
          className="min-h-0 flex-1 overflow-y-auto outline-offset-[-2px]"
        >
          <div className="relative" style={{ height: rows.getTotalSize() }}>
            {rows.getVirtualItems().map(({ index: at, start }) => {
              const sample = found.get(at);
              return (
                <SampleRow
                  key={sample?.id ?? `row-${at}`}
                  sample={sample}
                  place={at}
                  total={total}
                  top={start}
                  height={ROW_HEIGHT}
                  chosen={sample !== undefined && sample.id === chosen?.id}
                  marked={sample !== undefined && marked.includes(sample.id)}
                  playing={playing === `sample-${sample?.id}`}
                  failed={failed === `sample-${sample?.id}`}
                  onChoose={(event) => {
                    if (event.shiftKey) markTo(at);
                    else if (event.ctrlKey || event.metaKey) {
                      if (sample) toggleMark(sample.id);
                    } else go(at);
                  }}
                  onMark={() => sample && toggleMark(sample.id)}
                  onOpen={() => open(sample)}
                />
              );
            })}
          </div>
        </div>
      </div>
      {chosen && (
        <DetailsDrawer name={chosen.name}>
          <SampleDetails key={chosen.id} sample={chosen} library={library} />
        </DetailsDrawer>
      )}
    </div>
  );
}
