import type { JobItem, RerenderRow } from "../../api";
import { progressWords } from "../../ui";

const failedWords = (failed: number) => (failed > 0 ? `, ${failed} failed` : "");

/** How far long work is, or how it ended. */
export function jobWords(job: JobItem): string {
  const { state, of, done, failed, seconds } = job;
  if (state === "running") return progressWords({ done: done + failed, of, seconds });
  const ended = state === "stopped" ? "stopped" : "ready";
  return `${ended}: ${done} to compare${failedWords(failed)}`;
}

/** Rows whose new render differs from what is there, which can take its place. */
export const differing = (rows: readonly RerenderRow[]) =>
  rows.filter(({ rendered }) => rendered !== null && !rendered.same);

/** What came of all rows, in few words. */
export function rowsWords(rows: readonly RerenderRow[]): string {
  const differ = differing(rows).length;
  const failed = rows.filter(({ rendered }) => rendered === null).length;
  const same = rows.length - differ - failed;
  return [
    differ > 0 ? `${differ} differ${differ === 1 ? "s" : ""}` : null,
    same > 0 ? `${same} the same` : null,
    failed > 0 ? `${failed} could not be rendered` : null,
  ]
    .filter(Boolean)
    .join(", ");
}
