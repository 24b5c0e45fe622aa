/** A row of a vocabulary as it is typed; words have spaces between them. */
export interface TypedRow {
  category: string;
  subcategory: string;
  words: string;
}

const cell = (text: string) => (/[",\n\r]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

/** The rows as CSV (RFC 4180); rows with nothing in them are left out. */
export function csvOf(rows: readonly TypedRow[]): string {
  const listed = rows
    .map(({ category, subcategory, words }) => [category.trim(), subcategory.trim(), words.trim()])
    .filter((cells) => cells.some((one) => one !== ""));
  const lines = [["category", "subcategory", "words"], ...listed];
  return lines.map((cells) => `${cells.map(cell).join(",")}\n`).join("");
}

/** The row that the server's words are about: "line 3: a category has …" is the second one. */
export function rowOfProblem(words: string | null, rows: readonly TypedRow[]): number | null {
  const line = /^line (\d+)/.exec(words ?? "")?.[1];
  if (line === undefined) return null;
  const written = rows.flatMap((row, at) =>
    row.category.trim() || row.subcategory.trim() || row.words.trim() ? [at] : [],
  );
  return written[Number(line) - 2] ?? null;
}
