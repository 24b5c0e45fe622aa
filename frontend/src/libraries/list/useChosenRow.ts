import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { oneSample, PAGE, type SampleQuery, searchPage, type SampleItem } from "../../api";
import { choose, useSelection } from "../common";

interface Options {
  query: SampleQuery;
  found: Map<number, SampleItem>;
  /** Where the chosen row lay last, so that its page stays read. */
  place: number;
  onPlace: (place: number) => void;
  /** Called with a row once it is chosen by hand. */
  onChosen: (sample: SampleItem, place: number) => void;
}

export const pageOf = (place: number) => Math.floor(place / PAGE);

/**
 * The chosen one of a long list of which only some pages are read: a row that is not there yet is
 * chosen as soon as it comes; one that is not in the list is shown nevertheless.
 */
export function useChosenRow({ query, found, place, onPlace, onChosen }: Options) {
  const queries = useQueryClient();
  const chosenId = useSelection((state) => state.chosenId);
  const asked = useRef(0);
  const at = chosenId === null ? 0 : [...found].find(([, { id }]) => id === chosenId)?.[0];
  const elsewhere = useQuery({
    ...oneSample(chosenId),
    enabled: chosenId !== null && at === undefined,
  });
  const go = async (to: number) => {
    const mine = ++asked.current;
    onPlace(to);
    let sample = found.get(to);
    if (!sample) {
      const page = await queries.fetchQuery(searchPage(query, pageOf(to))).catch(() => null);
      sample = page?.samples[to % PAGE];
    }
    // Another row may have been asked for meanwhile.
    if (!sample || mine !== asked.current) return;
    choose(sample.id);
    onChosen(sample, to);
  };
  return {
    index: at ?? place,
    chosen: at === undefined ? elsewhere.data : found.get(at),
    go: (to: number) => void go(to),
  };
}
