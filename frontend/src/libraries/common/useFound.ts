import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { PAGE, type SampleQuery, searchPage, type SampleItem } from "../../api";
import { useSettledQuery } from "./useSettledQuery";

/** What a search finds: its counts, and the rows of the pages that are looked at. */
export function useFound(asked: SampleQuery, pages: number[]) {
  const query = useSettledQuery(asked);
  const first = useQuery({ ...searchPage(query, 0), placeholderData: keepPreviousData });
  const others = [...new Set(pages)].filter((page) => page > 0);
  const answers = useQueries({ queries: others.map((page) => searchPage(query, page)) });
  const rows = new Map<number, SampleItem>();
  first.data?.samples.forEach((sample, n) => rows.set(n, sample));
  others.forEach((page, n) =>
    answers[n]?.data?.samples.forEach((sample, k) => rows.set(page * PAGE + k, sample)),
  );
  const stale = first.isPlaceholderData || query !== asked;
  return { query, answer: first.data, rows, error: first.error, stale };
}
