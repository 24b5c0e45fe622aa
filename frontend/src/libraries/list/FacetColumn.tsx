import type { RangeFacet, SampleQuery, SearchAnswer } from "../../api";
import { RANGE_WORDS, statusText, ask, toggled, useSelection } from "../common";
import { RangeField } from "./RangeField";

const SHOWN = 6;

interface ColumnProps {
  answer: SearchAnswer | undefined;
  /** Whether all libraries are looked through, and one may be chosen. */
  everywhere: boolean;
}

/** What is found, counted by facet; each value puts itself in or takes itself out. */
export function FacetColumn({ answer, everywhere }: ColumnProps) {
  const query = useSelection((state) => state.query);
  if (!answer) return null;
  const { choices, ranges, names, asked } = answer;
  const textual = (
    title: string,
    facet: string,
    key: "categories" | "subcategories" | "statuses" | "notes" | "tags" | "folders",
    words: (value: string) => string = (value) => value,
  ) => (
    <Facet
      title={title}
      counts={choices[facet] ?? {}}
      chosen={query[key]}
      asked={asked[key]}
      words={words}
      onToggle={(value) => ask({ [key]: toggled(query[key], value) })}
    />
  );
  const numbered = (
    title: string,
    facet: "maker" | "channels" | "library",
    key: "makers" | "channels" | "libraries",
  ) => (
    <Facet
      title={title}
      counts={choices[facet] ?? {}}
      chosen={query[key].map(String)}
      asked={asked[key].map(String)}
      words={(value) =>
        facet === "channels"
          ? value === "1"
            ? "mono"
            : "stereo"
          : (names[facet]?.[value] ?? value)
      }
      onToggle={(value) => ask({ [key]: toggled(query[key], Number(value)) })}
    />
  );
  return (
    <section aria-label="Filters" className="grid gap-3">
      {everywhere && numbered("Library", "library", "libraries")}
      {textual("Category", "category", "categories")}
      {query.categories.length > 0 && textual("Subcategory", "subcategory", "subcategories")}
      {textual("Status", "status", "statuses", statusText)}
      {Object.entries(ranges).map(([name, facet]) => (
        <Range key={name} name={name} facet={facet} query={query} />
      ))}
      {textual("Tag", "tag", "tags")}
      {textual("Note", "note", "notes")}
      {textual("Folder", "folder", "folders")}
      {numbered("Width", "channels", "channels")}
      {numbered("Made by", "maker", "makers")}
    </section>
  );
}

function Range({ name, facet, query }: { name: string; facet: RangeFacet; query: SampleQuery }) {
  const known = RANGE_WORDS[name];
  if (!known || facet.high <= facet.low) return null;
  const put = (low: number | null, high: number | null) => {
    const others = Object.fromEntries(Object.entries(query.ranges).filter(([key]) => key !== name));
    ask({ ranges: low === null && high === null ? others : { ...others, [name]: [low, high] } });
  };
  return <RangeField {...known} facet={facet} chosen={query.ranges[name]} onChange={put} />;
}

interface FacetProps {
  title: string;
  counts: Record<string, number>;
  chosen: string[];
  /** What was chosen when the counts were asked for. */
  asked: string[];
  words: (value: string) => string;
  onToggle: (value: string) => void;
}

function Facet({ title, counts, chosen, asked, words, onToggle }: FacetProps) {
  // A box that is cleared stays where it is until the next answer, even if nothing has its value.
  const kept = [...new Set([...asked, ...chosen])];
  const values = Object.entries(counts).sort(([, a], [, b]) => b - a);
  const listed = [
    ...kept.map((value) => [value, counts[value] ?? 0] as const),
    ...values.filter(([value]) => !kept.includes(value)).slice(0, SHOWN),
  ];
  if (listed.length === 0) return null;
  return (
    <fieldset>
      <legend className="mb-0.5 text-[11.5px] font-semibold text-ink-2">{title}</legend>
      {listed.map(([value, count]) => (
        <label
          key={value}
          className="flex min-h-6 items-center gap-1.5 rounded-sm px-1 text-[12.5px] hover:bg-band"
        >
          <input
            type="checkbox"
            checked={chosen.includes(value)}
            onChange={() => onToggle(value)}
            className="size-3.5 accent-action"
          />
          <span className="min-w-0 flex-1 truncate" title={words(value)}>
            {words(value)}
          </span>
          <span className="figure text-[11px] text-ink-2">{count}</span>
        </label>
      ))}
    </fieldset>
  );
}
