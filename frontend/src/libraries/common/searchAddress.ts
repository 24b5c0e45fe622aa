import { EMPTY_QUERY, type SampleQuery } from "../../api";
import { RANGE_WORDS } from "./figures";

/** What a search asks for beside its library, as it stands in an address. */
const LISTS = {
  category: "categories",
  subcategory: "subcategories",
  status: "statuses",
  note: "notes",
  tag: "tags",
  folder: "folders",
} as const;
const NUMBERS = { maker: "makers", channels: "channels" } as const;
const SINGLE_NUMBERS = { sound: "sound_id", like: "like" } as const;
const TEXTS = ["words", "group"] as const;
const SORTS: SampleQuery["sort"][] = [
  "best",
  "name",
  "newest",
  "length_s",
  "loudness_lufs",
  "brightness_hz",
  "decay_s",
  "rating",
];
const LONGEST_WORDS = 200;
const MOST_VALUES = 100;

type Bounds = [number | null, number | null];
const entries = <Key extends string, Value>(record: Readonly<Record<Key, Value>>) =>
  Object.entries(record) as [Key, Value][];

/** The part after the question mark; empty where a search asks for nothing but its library. */
export function searchAddress(query: SampleQuery): string {
  const address = new URLSearchParams();
  for (const name of TEXTS) if (query[name]) address.set(name, query[name]);
  for (const [name, field] of entries(LISTS))
    for (const value of query[field] ?? []) address.append(name, value);
  for (const [name, field] of entries(NUMBERS))
    for (const value of query[field] ?? []) address.append(name, `${value}`);
  for (const [name, field] of entries(SINGLE_NUMBERS)) {
    const value = query[field];
    if (value !== null) address.set(name, `${value}`);
  }
  for (const [name, [low, high]] of Object.entries(query.ranges ?? {}))
    address.set(name, `${low ?? ""}..${high ?? ""}`);
  if (query.sort !== EMPTY_QUERY.sort) address.set("sort", query.sort);
  if (query.descending) address.set("descending", "yes");
  return address.toString();
}

/** A search as an address asks for it; what cannot be read in it is left out. */
export function searchIn(address: string): Partial<SampleQuery> {
  const given = new URLSearchParams(address);
  const found: Partial<SampleQuery> = {};
  for (const name of TEXTS) {
    const text = given.get(name)?.slice(0, LONGEST_WORDS);
    if (text) found[name] = text;
  }
  for (const [name, field] of entries(LISTS)) {
    const values = given.getAll(name).slice(0, MOST_VALUES);
    if (values.length > 0) found[field] = values;
  }
  for (const [name, field] of entries(NUMBERS)) {
    const values = given.getAll(name).map(wholeNumber).slice(0, MOST_VALUES);
    const known = values.filter((value) => value !== null);
    if (known.length > 0) found[field] = known;
  }
  for (const [name, field] of entries(SINGLE_NUMBERS)) {
    const value = wholeNumber(given.get(name));
    if (value !== null) found[field] = value;
  }
  const ranges = Object.keys(RANGE_WORDS).flatMap((name): [string, Bounds][] => {
    const bounds = boundsIn(given.get(name));
    return bounds ? [[name, bounds]] : [];
  });
  if (ranges.length > 0) found.ranges = Object.fromEntries(ranges);
  const sort = SORTS.find((one) => one === given.get("sort"));
  if (sort) found.sort = sort;
  if (given.get("descending") === "yes") found.descending = true;
  return found;
}

function wholeNumber(text: string | null): number | null {
  return text !== null && /^\d{1,12}$/.test(text) ? Number(text) : null;
}

function boundsIn(text: string | null): Bounds | null {
  const parts = text?.split("..");
  if (parts?.length !== 2) return null;
  const [low, high] = parts.map((part) => (part === "" ? null : Number(part)));
  if (low === undefined || high === undefined) return null;
  const finite = [low, high].every((one) => one === null || Number.isFinite(one));
  if (!finite || (low === null && high === null)) return null;
  return low !== null && high !== null && low > high ? null : [low, high];
}
