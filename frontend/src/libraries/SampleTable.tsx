import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { SampleItem } from "../api/types";
import { playUrl, usePlayer } from "../audio/player";
import { SampleDetails } from "./SampleDetails";
import { SampleRow, sampleUrl } from "./SampleRow";

const ROW_HEIGHT = 44;

/** Dense, virtual, keyboard first: arrows move and play, Enter opens the sound. */
export function SampleTable({ samples }: { samples: SampleItem[] }) {
  const [chosenId, setChosenId] = useState<number | null>(samples[0]?.id ?? null);
  const list = useRef<HTMLDivElement>(null);
  const navigate = useNavigate();
  const playing = usePlayer((state) => state.key);
  const rows = useVirtualizer({
    count: samples.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 8,
  });
  const index = Math.max(
    0,
    samples.findIndex(({ id }) => id === chosenId),
  );
  const chosen = samples[index];

  if (!chosen) {
    return (
      <div className="grid flex-1 place-items-center p-8 text-center text-ink-2">
        <div>
          <p className="mb-3">No samples here yet. Make a sound and keep a take of it.</p>
          <Link
            to="/bench"
            className="inline-flex min-h-8 items-center rounded-control bg-action px-3 font-medium text-action-ink"
          >
            Open the Bench
          </Link>
        </div>
      </div>
    );
  }

  const playSample = (sample: SampleItem) => void playUrl(sampleUrl(sample), `sample-${sample.id}`);
  const go = (to: number) => {
    const next = samples[Math.min(samples.length - 1, Math.max(0, to))];
    if (!next) return;
    setChosenId(next.id);
    rows.scrollToIndex(samples.indexOf(next));
    playSample(next);
  };
  const keys = (event: React.KeyboardEvent) => {
    const moves: Record<string, number> = {
      ArrowDown: index + 1,
      ArrowUp: index - 1,
      Home: 0,
      End: samples.length - 1,
      " ": index,
    };
    const to = moves[event.key];
    if (to !== undefined) {
      event.preventDefault();
      go(to);
    } else if (event.key === "Enter" && chosen.sound_id !== null)
      void navigate(`/bench/${chosen.sound_id}`);
  };
  return (
    <div className="flex min-h-0 flex-1">
      <div className="flex min-w-0 flex-1 flex-col">
        <div
          className="grid h-7 grid-cols-[minmax(0,1fr)_160px_72px_72px_88px_84px] items-center gap-3 border-b border-line bg-panel px-4 text-[11.5px] text-ink-2"
          aria-hidden
        >
          <span>Name</span>
          <span>Waveform</span>
          <span className="text-right">Length</span>
          <span className="text-right">Peak</span>
          <span className="text-right">Loudness</span>
          <span className="text-right">Note</span>
        </div>
        <div
          ref={list}
          role="listbox"
          aria-label="Samples"
          aria-activedescendant={`sample-${chosen.id}`}
          tabIndex={0}
          autoFocus
          onKeyDown={keys}
          className="min-h-0 flex-1 overflow-y-auto outline-offset-[-2px]"
        >
          <div className="relative" style={{ height: rows.getTotalSize() }}>
            {rows.getVirtualItems().map(({ index: at, start }) => {
              const sample = samples[at];
              return (
                sample && (
                  <SampleRow
                    key={sample.id}
                    sample={sample}
                    top={start}
                    height={ROW_HEIGHT}
                    chosen={sample.id === chosen.id}
                    playing={playing === `sample-${sample.id}`}
                    onChoose={() => go(at)}
                    onOpen={() =>
                      sample.sound_id !== null && void navigate(`/bench/${sample.sound_id}`)
                    }
                  />
                )
              );
            })}
          </div>
        </div>
      </div>
      <SampleDetails sample={chosen} onPlay={() => playSample(chosen)} />
    </div>
  );
}
