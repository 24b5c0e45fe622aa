import type { SampleChanges } from "../../api";
import { parseValue, type Unit } from "../../ui";

/** What is typed for many samples; what is left empty stays as it is. */
export const NOTHING_TYPED = {
  category: "",
  subcategory: "",
  description: "",
  licence: "",
  author: "",
  group: "",
  folder: "",
  tempo: "",
  note: "",
  rating: "",
  followsKey: "",
  add: "",
  remove: "",
};
export type Typed = typeof NOTHING_TYPED;

/** Stands for no value, where an empty field says that nothing changes. */
export const CLEARED = "-";

const TEXTS = {
  description: "description",
  licence: "licence",
  author: "author",
  group: "variation_group",
  folder: "folder",
} as const;
const NUMBERS = {
  tempo: ["tempo_bpm", "bpm"],
  note: ["root_note", "note"],
} as const satisfies Record<string, readonly [keyof SampleChanges, Unit]>;

export type Problems = Partial<Record<keyof Typed, string>>;

const entries = <Key extends string, Value>(record: Readonly<Record<Key, Value>>) =>
  Object.entries(record) as [Key, Value][];

/** The changes that were typed, and what is wrong by field. */
export function changesTyped(typed: Typed): { changes: SampleChanges; problems: Problems } {
  const changes: SampleChanges = {};
  const problems: Problems = {};
  if (typed.category)
    Object.assign(changes, { category: typed.category, subcategory: typed.subcategory });
  for (const [key, field] of entries(TEXTS)) {
    const text = typed[key].trim();
    if (text) changes[field] = text === CLEARED ? "" : text;
  }
  for (const [key, [field, unit]] of entries(NUMBERS)) {
    const text = typed[key].trim();
    if (text === CLEARED) changes[field] = null;
    else if (text) {
      const read = parseValue(text, unit, { tempoBpm: 120 });
      if (read.ok) changes[field] = read.value;
      else problems[key] = read.message;
    }
  }
  if (typed.rating) changes.rating = Number(typed.rating);
  if (typed.followsKey) changes.follows_key = typed.followsKey === "yes";
  return { changes, problems };
}

/** Words between commas. */
export const listOf = (text: string) =>
  text
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);
