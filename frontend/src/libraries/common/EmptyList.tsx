import { Link } from "react-router";
import type { SampleQuery, LibraryItem } from "../../api";
import { Button } from "../../ui";
import { askAnew, isNarrowed } from "./queryStore";

/** Where a list holds nothing: why, and what to do next. */
export function EmptyList({
  library,
  query,
}: {
  library: LibraryItem | undefined;
  query: SampleQuery;
}) {
  const within = { libraries: query.libraries, binned: query.binned };
  if (isNarrowed(query))
    return (
      <Hint words="No samples match.">
        <Button onClick={() => askAnew(within)}>Show all</Button>
      </Hint>
    );
  if (query.binned) return <Hint words="The bin is empty." />;
  return (
    <Hint
      words={
        library?.may.includes("sample.add") === false
          ? "No samples yet."
          : "No samples yet. Make a sound and keep a take, or drop files onto this page."
      }
    >
      <Link
        to="/bench"
        className="inline-flex min-h-8 items-center rounded-control bg-action px-3 font-medium text-action-ink"
      >
        Open the Bench
      </Link>
    </Hint>
  );
}

export function Hint({ words, children }: { words: string; children?: React.ReactNode }) {
  return (
    <div className="grid flex-1 place-items-center p-8 text-center text-ink-2">
      <div>
        <p className="mb-3 max-w-[420px]">{words}</p>
        {children}
      </div>
    </div>
  );
}
