import { create } from "zustand";
import { EMPTY_QUERY, type SampleQuery } from "../../api";

interface Selection {
  query: SampleQuery;
  /** Samples that are marked for doing something with all of them; in the order of marking. */
  marked: number[];
  /** The sample whose details are shown. */
  chosenId: number | null;
  /** What can be taken back: the gesture, and what it was. */
  undoable: { gesture: string; label: string } | null;
  levelMatched: boolean;
}

export const useSelection = create<Selection>(() => ({
  query: EMPTY_QUERY,
  marked: [],
  chosenId: null,
  undoable: null,
  levelMatched: false,
}));

/** Another search; what was marked in the last one is let go, and so is what was chosen. */
export const ask = (patch: Partial<SampleQuery>) =>
  useSelection.setState(({ query }) => ({
    query: { ...query, ...patch },
    marked: [],
    chosenId: null,
  }));

/** Another order, or other words: what is like a sample is not asked for any more. */
export const askOtherwise = (patch: Pick<Partial<SampleQuery>, "words" | "sort" | "descending">) =>
  ask({ like: null, ...patch });

/**
 * What is like a sample, the nearest first. The words that found the sample would leave out what
 * has another name; facets go on narrowing, as "like this, and shorter".
 */
export const askLike = (like: number) => ask({ like, words: "", group: "", sound_id: null });

export const askAnew = (query: Partial<SampleQuery>) =>
  useSelection.setState({
    query: { ...EMPTY_QUERY, ...query },
    marked: [],
    chosenId: null,
  });

/** A value of a facet put in or taken out. */
export function toggled<Value>(values: readonly Value[], value: Value): Value[] {
  return values.includes(value) ? values.filter((one) => one !== value) : [...values, value];
}

export const mark = (ids: number[]) => useSelection.setState({ marked: ids });

export const toggleMark = (id: number) =>
  useSelection.setState(({ marked }) => ({ marked: toggled(marked, id) }));

export const choose = (chosenId: number | null) => useSelection.setState({ chosenId });

/** Told after something was done to many, so that it can be taken back. */
export const offerUndo = (gesture: string, label: string) =>
  useSelection.setState({ undoable: { gesture, label } });

/** Whether a search asks for more than its library. */
export const isNarrowed = (query: SampleQuery): boolean =>
  query.words !== "" ||
  query.like !== null ||
  query.group !== "" ||
  query.sound_id !== null ||
  [
    query.categories,
    query.subcategories,
    query.statuses,
    query.makers,
    query.notes,
    query.tags,
    query.folders,
    query.channels,
  ].some((values) => values.length > 0) ||
  Object.keys(query.ranges).length > 0;
