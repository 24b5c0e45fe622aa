import type { JudgedRound, SheetRow } from "../api";
import type { Order } from "./store";

interface Given {
  count: number;
  rows: ReadonlyMap<number, SheetRow>;
  judged: JudgedRound | undefined;
  order: Order;
  show: "all" | "undecided" | "kept" | "standing out";
}

/** Marks of a member beside the others, and what is wrong with itself. */
export function marksOf(number: number, row: SheetRow | undefined, judged?: JudgedRound): string[] {
  const at = judged ? judged.numbers.indexOf(number) : -1;
  return [...(row?.flags ?? []), ...(judged?.marks[at] ?? [])];
}

const places = new WeakMap<JudgedRound, Map<number, number>>();

/** Where a member stands in what was judged; undefined where it was not. */
export function placeOf(judged: JudgedRound | undefined, number: number): number | undefined {
  if (!judged) return undefined;
  const known = places.get(judged) ?? new Map(judged.numbers.map((one, n) => [one, n]));
  places.set(judged, known);
  return known.get(number);
}

function valueOf(number: number, { rows, judged, order }: Given): number {
  const at = placeOf(judged, number);
  if (order === "nearest") return judged?.nearest_distance[at ?? -1] ?? Infinity;
  if (order === "original") return judged?.original_distance[at ?? -1] ?? Infinity;
  const found = rows.get(number)?.figures[order.replace("figure:", "")];
  return typeof found === "number" ? found : Infinity;
}

/** The numbers of the members that the sheet shows, in its order. */
export function orderedNumbers(given: Given): number[] {
  const { count, rows, judged, order, show } = given;
  let numbers = Array.from({ length: count }, (_, n) => n + 1);
  if (order === "likeness" && judged) {
    const rest = new Set(judged.by_likeness);
    numbers = [...judged.by_likeness, ...numbers.filter((one) => !rest.has(one))];
  } else if (order !== "plan" && order !== "likeness") {
    const values = new Map(numbers.map((one) => [one, valueOf(one, given)]));
    const value = (one: number) => values.get(one) ?? Infinity;
    numbers = numbers.sort((a, b) => value(a) - value(b) || a - b);
  }
  if (show === "all") return numbers;
  return numbers.filter((number) => {
    const row = rows.get(number);
    if (show === "undecided") return !row || (row.words === "" && row.verdict === "");
    if (show === "kept") return row?.verdict === "kept";
    const at = placeOf(judged, number);
    const marks = at === undefined ? [] : (judged?.marks[at] ?? []);
    return (row?.flags.length ?? 0) > 0 || marks.length > 0 || (row?.words ?? "") !== "";
  });
}
