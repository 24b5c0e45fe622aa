import { useEffect, useState } from "react";
import type { SampleQuery } from "../../api";

const PAUSE_MS = 120;

/** Whether two searches differ in their words alone, as while someone types. */
export const differInWords = (one: SampleQuery, other: SampleQuery): boolean =>
  one.words !== other.words &&
  (Object.keys(one) as (keyof SampleQuery)[]).every(
    (key) => key === "words" || one[key] === other[key],
  );

/** A search as the server is asked for it: words once a short while passes without typing,
 * everything else at once. */
export function useSettledQuery(query: SampleQuery): SampleQuery {
  const [settled, setSettled] = useState(query);
  const typing = differInWords(query, settled);
  if (query !== settled && !typing) setSettled(query);
  useEffect(() => {
    if (!typing) return;
    const timer = setTimeout(() => setSettled(query), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [typing, query]);
  return typing ? settled : query;
}
