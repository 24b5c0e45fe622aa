import { useQuery } from "@tanstack/react-query";
import { Bookmark, Search, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { oneSample, type SampleQuery, type SearchAnswer } from "../../api";
import { Choice } from "../../ui";
import { KeepSearch } from "./KeepSearch";
import { ask, askOtherwise, isNarrowed, useSelection } from "../common";

const ORDERS = [
  ["best", "Best match"],
  ["newest", "Newest"],
  ["name", "Name"],
  ["length_s", "Length"],
  ["loudness_lufs", "Loudness"],
  ["brightness_hz", "Brightness"],
  ["decay_s", "Decay"],
  ["rating", "Rating"],
] as const satisfies readonly (readonly [SampleQuery["sort"], string])[];

/** One box for words, how they were read, the order, and playing at one loudness. */
export function SearchBar({ answer }: { answer: SearchAnswer | undefined }) {
  const { query, levelMatched } = useSelection();
  const [keeping, setKeeping] = useState(false);
  const box = useRef<HTMLInputElement>(null);
  const likeName = useQuery({ ...oneSample(query.like), enabled: query.like !== null }).data?.name;
  useEffect(() => {
    const find = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.matches("input, textarea");
      if (event.key !== "/" || typing) return;
      event.preventDefault();
      box.current?.focus();
    };
    addEventListener("keydown", find);
    return () => removeEventListener("keydown", find);
  }, []);
  const read = Object.entries(answer?.read_as ?? {});
  return (
    <div className="border-b border-line bg-panel px-3 py-2">
      <div className="flex items-center gap-2 narrow:flex-wrap">
        <label className="relative flex min-w-0 flex-1 narrow:min-w-[180px] items-center">
          <Search size={15} aria-hidden className="absolute left-2.5 text-ink-2" />
          <input
            ref={box}
            type="search"
            aria-label="Find samples"
            placeholder="Find by name, tag or description"
            title="/ focuses this field"
            value={query.words}
            maxLength={200}
            onChange={(event) => askOtherwise({ words: event.target.value })}
            onKeyDown={(event) => {
              if (event.key === "Escape") askOtherwise({ words: "" });
              if (event.key !== "ArrowDown") return;
              event.preventDefault();
              document.querySelector<HTMLElement>("[role=listbox]")?.focus();
            }}
            className="h-8 w-full rounded-control border border-line-strong bg-sheet pr-2 pl-8"
          />
        </label>
        {isNarrowed(query) && (
          <button
            type="button"
            title="Save this search"
            aria-label="Save search"
            onClick={() => setKeeping(true)}
            className="grid size-8 place-items-center rounded-control border border-line-strong bg-sheet hover:bg-band"
          >
            <Bookmark size={15} aria-hidden />
          </button>
        )}
        <Choice
          label="Order"
          hidden
          value={query.like === null ? query.sort : "nearest"}
          options={query.like === null ? ORDERS : [["nearest", "Nearest"], ...ORDERS]}
          onChange={(sort) =>
            sort !== "nearest" &&
            askOtherwise({ sort, descending: !["best", "newest", "name"].includes(sort) })
          }
        />
        <label className="flex min-h-8 items-center gap-1.5 text-[12.5px] whitespace-nowrap">
          <input
            type="checkbox"
            checked={levelMatched}
            onChange={(event) => useSelection.setState({ levelMatched: event.target.checked })}
            className="size-3.5 accent-action"
          />
          Equal loudness
        </label>
      </div>
      {(read.length > 0 || query.like !== null || query.group || query.sound_id !== null) && (
        <p role="status" className="mt-1.5 flex flex-wrap gap-2 text-[12px] text-ink-2">
          {read.map(([typed, meant]) => (
            <span key={typed}>
              No match for “{typed}”; showing <b className="text-ink">{meant.join(", ")}</b>
            </span>
          ))}
          {query.like !== null && (
            <Chip
              words={likeName ? `the nearest to ${likeName} first` : "the nearest first"}
              onDrop={() => ask({ like: null })}
            />
          )}
          {query.group && (
            <Chip words={`variations of ${query.group}`} onDrop={() => ask({ group: "" })} />
          )}
          {query.sound_id !== null && (
            <Chip words="made from one sound" onDrop={() => ask({ sound_id: null })} />
          )}
        </p>
      )}
      <KeepSearch open={keeping} onClose={() => setKeeping(false)} query={query} />
    </div>
  );
}

function Chip({ words, onDrop }: { words: string; onDrop: () => void }) {
  return (
    <button
      type="button"
      onClick={onDrop}
      className="inline-flex min-h-6 items-center gap-1 rounded-full border border-line-strong bg-sheet px-2 text-ink hover:bg-band"
    >
      {words} <X size={12} aria-label="leave out" />
    </button>
  );
}
