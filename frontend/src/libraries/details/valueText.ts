import { formatValue } from "../../ui";

const WORDS: Record<string, string> = {
  start_s: "start",
  end_s: "end",
  fade_in_s: "fade in",
  fade_out_s: "fade out",
  gain_db: "gain",
};
const LONGEST = 40;

function numberText(name: string, value: unknown): string {
  if (typeof value !== "number") return String(value);
  return formatValue(value, name.endsWith("_db") ? "dB" : name.endsWith("_s") ? "s" : "");
}

/** A value of a sample as a history or a choice between two shows it. */
export function valueText(value: unknown): string {
  if (value === null || value === undefined || value === "") return "none";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (Array.isArray(value)) return value.length === 0 ? "none" : value.join(", ");
  if (typeof value === "object") {
    const parts = Object.entries(value).map(
      ([name, one]) => `${WORDS[name] ?? name} ${numberText(name, one)}`,
    );
    return parts.join(", ") || "unchanged";
  }
  const text = String(value);
  return text.length > LONGEST ? `${text.slice(0, LONGEST - 1)}…` : text;
}
