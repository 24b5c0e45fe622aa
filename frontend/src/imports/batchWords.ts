import type { Batch } from "./batch";

type Counts = Pick<Batch, "of" | "made" | "there" | "failed" | "left">;

/** How many files have come to an end, good or bad. */
export const doneOf = ({ made, there, failed }: Omit<Counts, "of" | "left">) =>
  made.length + there.length + failed.length;

const isAre = (count: number, words: string) => `${count} ${count === 1 ? "is" : "are"} ${words}`;

/** What became of files that were imported. */
export function batchWords({ of, made, there, failed, left }: Counts): string {
  if (made.length === of) return of === 1 ? "Imported." : `All ${of} imported.`;
  if (there.length === of)
    return of === 1
      ? "The library already has this audio; nothing was added."
      : `The library has all ${of} already; nothing was added.`;
  const parts = [
    made.length > 0 ? isAre(made.length, "imported") : null,
    there.length > 0
      ? `${there.length} ${there.length === 1 ? "was" : "were"} already there`
      : null,
    failed.length > 0 ? `${failed.length} could not be imported` : null,
    left.length > 0 ? `${left.length} ${left.length === 1 ? "was" : "were"} not sent` : null,
  ];
  return `${parts.filter(Boolean).join(", ")}.`;
}

/** What sending the others would do. */
export const againWords = ({ failed, left }: Pick<Counts, "failed" | "left">) =>
  failed.length === 0 ? `Go on with ${left.length}` : `Try ${failed.length + left.length} again`;
