import { Link } from "react-router";
import { Button } from "../ui";
import { forgetBatch } from "./batch";
import type { Sent } from "./sending";

interface Props {
  libraryId: number;
  /** Files whose audio the library has, each with the sample that has it. */
  there: Sent[];
  /** Whether their words were taken over. */
  merged: boolean;
  onMerge: () => void;
}

/** What was not added because the library has the same audio, and where it is. */
export function Twins({ libraryId, there, merged, onMerge }: Props) {
  return (
    <section aria-labelledby="twins" className="mt-3">
      <div className="mb-1 flex items-end gap-2">
        <h3 id="twins" className="mr-auto text-[12.5px] font-semibold">
          {merged ? "Same audio; words and tags were merged" : "Skipped: same audio in the library"}
        </h3>
        {!merged && (
          <Button
            title="Adds tags, and fills empty fields with what these files say; can be undone per sample"
            onClick={onMerge}
          >
            Merge words and tags
          </Button>
        )}
      </div>
      <ul className="max-h-[200px] overflow-y-auto rounded-control border border-line bg-sheet text-[12.5px]">
        {there.map(({ file, id, name }, n) => (
          <li key={n} className="flex gap-2 border-t border-line px-2 py-1 first:border-t-0">
            <span className="min-w-0 flex-1 truncate" title={file.name}>
              {file.name}
            </span>
            <span aria-hidden className="text-ink-2">
              =
            </span>
            <Link
              to={`/libraries/${libraryId}?like=${id}`}
              onClick={forgetBatch}
              className="min-w-0 flex-1 truncate text-action underline"
            >
              {name}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
