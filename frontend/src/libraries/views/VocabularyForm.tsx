import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { api, errorText, fieldProblem, resultOf, type LibraryItem } from "../../api";
import { Button } from "../../ui";
import { csvOf, rowOfProblem, type TypedRow } from "./vocabularyCsv";

const EMPTY: TypedRow = { category: "", subcategory: "", words: "" };
const COLUMNS = [
  ["category", "Category"],
  ["subcategory", "Subcategory"],
  ["words", "Words in names"],
] as const;

/** The categories of a library, the server's or its own, as a table and as CSV. */
export function VocabularyForm({ library }: { library: LibraryItem }) {
  const queries = useQueryClient();
  const params = { path: { library_id: library.id } };
  const kept = useQuery({
    queryKey: ["vocabulary", "of", library.id],
    queryFn: () => resultOf(api.GET("/api/libraries/{library_id}/vocabulary", { params })),
  });
  const [typed, setTyped] = useState<TypedRow[] | null>(null);
  const [problem, setProblem] = useState<unknown>(null);
  const [notice, setNotice] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const rows =
    typed ?? kept.data?.rows.map((row) => ({ ...row, words: row.words.join(" ") })) ?? [];
  const put = async (csv: string | null, done: string) => {
    setNotice(null);
    try {
      const body = { csv };
      await resultOf(api.PUT("/api/libraries/{library_id}/vocabulary", { params, body }));
      setTyped(null);
      setProblem(null);
      setNotice(done);
      await queries.invalidateQueries({ queryKey: ["vocabulary"] });
    } catch (error) {
      setProblem(error);
    }
  };
  const edit = (at: number, name: keyof TypedRow, text: string) =>
    setTyped(rows.map((row, n) => (n === at ? { ...row, [name]: text } : row)));
  const words = fieldProblem(problem, "csv");
  const wrong = rowOfProblem(words, rows);
  const bring = async (chosen: File | undefined) => {
    if (chosen) await put(await chosen.text(), `Imported from ${chosen.name}`);
  };
  if (kept.isPending) return null;
  return (
    <section aria-label="Vocabulary" className="max-w-[720px]">
      <h3 className="mb-1 font-title text-[15px] font-semibold">Vocabulary</h3>
      <p className="mb-2 text-[12.5px] text-ink-2">
        {kept.data?.own ? "This library has its own." : "The server’s, until you change it here."}{" "}
        Words in a name suggest its category on import. Samples keep what they have; Maintenance
        lists what the vocabulary does not know.
      </p>
      <table className="w-full text-left text-[12.5px]">
        <thead>
          <tr>
            {COLUMNS.map(([name, title]) => (
              <th key={name} scope="col" className="py-1 pr-2 font-medium text-ink-2">
                {title}
              </th>
            ))}
            <th scope="col">
              <span className="sr-only">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, at) => (
            // Rows have no names of their own: a row is its place.
            <tr key={at} className="border-t border-line">
              {COLUMNS.map(([name, title]) => (
                <td key={name} className="pr-2">
                  <input
                    aria-label={`${title}, row ${at + 1}`}
                    aria-invalid={wrong === at ? true : undefined}
                    maxLength={name === "words" ? 400 : 60}
                    className={`h-7 w-full rounded-sm bg-transparent px-1 hover:bg-band focus:bg-sheet ${wrong === at ? "outline outline-bad" : ""}`}
                    value={row[name]}
                    onChange={(event) => edit(at, name, event.target.value)}
                  />
                </td>
              ))}
              <td className="w-7">
                <button
                  type="button"
                  aria-label={`Remove row ${at + 1}: ${row.category} ${row.subcategory}`}
                  className="grid size-7 place-items-center rounded-sm text-ink-2 hover:bg-band"
                  onClick={() => setTyped(rows.filter((_, n) => n !== at))}
                >
                  <Trash2 size={13} aria-hidden />
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {problem !== null && (
        <p role="alert" className="mt-2 text-bad">
          {wrong === null
            ? (words ?? errorText(problem))
            : `Row ${wrong + 1}${words?.replace(/^line \d+/, "") ?? ""}`}
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Button onClick={() => setTyped([...rows, EMPTY])}>Add row</Button>
        <Button
          look="action"
          disabled={typed === null}
          onClick={() => void put(csvOf(rows), "Saved")}
        >
          Save vocabulary
        </Button>
        {typed !== null && (
          <Button look="quiet" onClick={() => setTyped(null)}>
            Discard changes
          </Button>
        )}
        <span className="flex-1" />
        <Button look="quiet" onClick={() => file.current?.click()}>
          Import CSV…
        </Button>
        <a
          className="inline-flex min-h-8 items-center rounded-control px-3 text-[13px] font-medium hover:bg-band"
          download={`${library.key}-vocabulary.csv`}
          href={`data:text/csv;charset=utf-8,${encodeURIComponent(kept.data?.csv ?? "")}`}
        >
          Export CSV
        </a>
        {kept.data?.own && (
          <Button
            look="quiet"
            onClick={() => void put(null, "The server’s vocabulary is used again")}
          >
            Use the server’s
          </Button>
        )}
        <input
          ref={file}
          type="file"
          accept=".csv,text/csv"
          aria-label="Vocabulary as CSV"
          className="hidden"
          onChange={(event) => {
            void bring(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </div>
      {notice && (
        <p role="status" className="mt-1">
          {notice}
        </p>
      )}
    </section>
  );
}
