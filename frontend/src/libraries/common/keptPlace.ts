import type { SampleQuery } from "../../api";
import { searchAddress } from "./searchAddress";

interface Place {
  /** How far the list was scrolled, in pixels. */
  top: number;
  /** The row that was gone to last. */
  row: number;
}

const START: Place = { top: 0, row: 0 };
let kept: { key: string; place: Place } | null = null;

const keyOf = (query: SampleQuery) =>
  `${(query.libraries ?? []).join()} ${query.binned} ${searchAddress(query)}`;

/** Where the list of a search was left last; its start after another search. */
export const keptPlace = (query: SampleQuery): Place =>
  kept?.key === keyOf(query) ? kept.place : START;

/** Note where the list of a search stands, for when one comes back to it. */
export function keepPlace(query: SampleQuery, change: Partial<Place>): void {
  kept = { key: keyOf(query), place: { ...keptPlace(query), ...change } };
}
