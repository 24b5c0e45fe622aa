import type { Axis, PlanNumber } from "../api";
import { formatValue, noteName, parseValue, type Unit } from "../ui";

const UNITS: Record<Axis["kind"], Unit> = {
  note: "note",
  velocity: "",
  hold: "s",
  hit: "",
  macro: "percent",
  rate: "Hz",
};
const CONTEXT = { tempoBpm: 120 };

type Read<Value> = { ok: true; value: Value } | { ok: false; message: string };
type Steps = Pick<Axis, "values" | "first" | "last" | "step">;

const NONE: Steps = { values: [], first: null, last: null, step: 1 };

function one(text: string, kind: Axis["kind"]): Read<number> {
  const plain = text.trim();
  // A bare number is what the axis counts: a MIDI note, Hz of a rate.
  if ((kind === "note" || kind === "rate") && /^\d+$/.test(plain))
    return { ok: true, value: Number(plain) };
  const parsed = parseValue(plain, UNITS[kind], CONTEXT);
  if (!parsed.ok) return parsed;
  return { ok: true, value: kind === "note" ? Math.round(parsed.value) : parsed.value };
}

const RANGE = /^(.+?)\s*(?:–|\.\.|to|(?<=[\w%])-)\s*(.+?)(?:\s+by\s+(.+))?$/;

/** Values of an axis as they are typed: "60, 90, 127", "1–4", "C2–C5 by 3". */
export function readAxis(text: string, kind: Axis["kind"]): Read<Steps> {
  if (text.trim() === "") return { ok: true, value: NONE };
  if (!text.includes(",")) {
    const range = RANGE.exec(text.trim());
    if (range) return readRange(range, kind);
  }
  const values: number[] = [];
  for (const part of text.split(",")) {
    const read = one(part, kind);
    if (!read.ok) return read;
    if (!values.includes(read.value)) values.push(read.value);
  }
  return { ok: true, value: { ...NONE, values } };
}

function readRange(range: RegExpExecArray, kind: Axis["kind"]): Read<Steps> {
  const first = one(range[1] ?? "", kind);
  const last = one(range[2] ?? "", kind);
  if (!first.ok) return first;
  if (!last.ok) return last;
  const whole = kind !== "hold" && kind !== "macro";
  const span = last.value - first.value;
  if (span < 0) return { ok: false, message: "The end lies below the start" };
  const fallback = whole ? 1 : Math.max(1e-6, span / 4);
  const step = range[3] === undefined ? fallback : Number(range[3].replace("%", ""));
  const by = kind === "macro" && range[3] !== undefined ? step / 100 : step;
  if (!(by > 0)) return { ok: false, message: "A step is a number above 0" };
  return { ok: true, value: { values: [], first: first.value, last: last.value, step: by } };
}

function written(value: number, kind: Axis["kind"]): string {
  if (kind === "note") return noteName(value);
  if (kind === "velocity" || kind === "hit") return `${value}`;
  return formatValue(value, UNITS[kind]);
}

/** An axis as one would type it. */
export function axisText({ kind, values, first, last, step }: Axis): string {
  if (first === null || last === null)
    return values.map((value) => written(value, kind)).join(", ");
  const range = `${written(first, kind)}–${written(last, kind)}`;
  const whole = kind !== "hold" && kind !== "macro";
  if (whole && step === 1) return range;
  return `${range} by ${kind === "macro" ? `${100 * step} %` : step}`;
}

/** How many values an axis has. */
export function axisCount({ values, first, last, step }: Axis): number {
  if (first === null || last === null) return values.length;
  return Math.floor((last - first) / step + 1e-9) + 1;
}

type Ends = { low: number; high: number };

/** A spread as it is typed: "160–310 ms", "±0.6 st", "±20 %". */
export function readSpread(text: string, number: PlanNumber): Read<Ends> {
  const around = /^(?:±|\+\/?-)\s*(.+)$/.exec(text.trim());
  if (around) return readAround(around[1] ?? "", number);
  const range = /^(.+?)\s*(?:–|…|\.\.\.?|to|(?<=[\w%])-)\s*(.+)$/.exec(text.trim());
  if (!range) return { ok: false, message: "Type two ends, such as 160–310 ms, or ±20 %" };
  const high = parseValue(range[2] ?? "", number.unit as Unit, CONTEXT);
  // "160–310 ms": the unit stands once.
  const suffix = /[a-z%°]+\s*$/i.exec(range[2] ?? "")?.[0] ?? "";
  const bare = /[a-z%°]\s*$/i.test(range[1] ?? "");
  const low = parseValue(`${range[1] ?? ""}${bare ? "" : suffix}`, number.unit as Unit, CONTEXT);
  if (!low.ok) return low;
  if (!high.ok) return high;
  return ordered(low.value, high.value);
}

function readAround(text: string, number: PlanNumber): Read<Ends> {
  const share = /^([\d.,]+)\s*%$/.exec(text.trim());
  if (share && number.unit !== "percent") {
    const by = (Number((share[1] ?? "").replace(",", ".")) / 100) * Math.abs(number.base);
    return ordered(number.base - by, number.base + by);
  }
  const read = parseValue(text, number.unit as Unit, CONTEXT);
  if (!read.ok) return read;
  return ordered(number.base - read.value, number.base + read.value);
}

function ordered(low: number, high: number): Read<Ends> {
  if (high < low) return { ok: false, message: "The upper end lies below the lower" };
  return { ok: true, value: { low, high } };
}

/** A spread as one would type it. */
export function spreadText({ low, high }: Ends, number: PlanNumber): string {
  const unit = number.unit as Unit;
  const middle = Math.abs((low + high) / 2 - number.base);
  if (number.base === 0 && middle < 1e-9 && high > 0)
    return `±${formatValue(high, unit).replace("+", "")}`;
  // A dash before a minus would be read as one of them.
  const between = high < 0 ? "…" : "–";
  return `${formatValue(low, unit)} ${between} ${formatValue(high, unit)}`;
}
