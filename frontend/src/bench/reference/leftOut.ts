import type { Reference } from "../../api";

type Span = Reference["left_out"][number];

/** Stretches with one more; those that touch become one. */
export function withStretch(spans: Span[], added: Span): Span[] {
  const all = [...spans, added].sort((a, b) => a.start_s - b.start_s);
  const joined: Span[] = [];
  for (const one of all) {
    const last = joined.at(-1);
    if (last && one.start_s <= last.end_s)
      joined[joined.length - 1] = { ...last, end_s: Math.max(last.end_s, one.end_s) };
    else joined.push(one);
  }
  return joined.slice(0, 16);
}

/** Stretches without the one that holds a moment; the same where none does. */
export function withoutStretch(spans: Span[], atS: number): Span[] {
  const left = spans.filter(({ start_s, end_s }) => atS < start_s || atS > end_s);
  return left.length === spans.length ? spans : left;
}
