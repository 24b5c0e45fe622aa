import { Play } from "lucide-react";
import type { ReleaseChange } from "../../api";
import { playUrl } from "../../audio";
import { levelText } from "../common";

const KINDS: Record<string, { words: string; glyph: string; colour: string }> = {
  added: { words: "new", glyph: "+", colour: "text-good" },
  removed: { words: "gone", glyph: "−", colour: "text-bad" },
  sound: { words: "audio changed", glyph: "≈", colour: "text-warn" },
  words: { words: "details changed", glyph: "✎", colour: "text-ink-2" },
  renamed: { words: "renamed", glyph: "→", colour: "text-ink-2" },
};

interface Props {
  changes: ReleaseChange[];
  /** How many there are in all by kind; the list may hold but the first of them. */
  counts: Record<string, number>;
  libraryId: number;
  since: string | null;
  /** The release that the changes led to; without one it is not made yet. */
  number?: string;
}

type Facts = ReleaseChange["before"];
const text = (facts: Facts, name: string) => String(facts?.[name] ?? "");
const loudness = (facts: Facts) => {
  const value = facts?.["loudness_lufs"];
  return typeof value === "number" ? levelText(value, "LUFS") : "";
};

/** What became of each sample, with both sides ready to compare one after the other. */
export function ChangeList({ changes, counts, libraryId, since, number }: Props) {
  const fileOf = (facts: Facts, release: string | null | undefined) =>
    facts && release && text(facts, "sha256")
      ? `/api/libraries/${libraryId}/releases/${release}/files/${text(facts, "sha256")}`
      : null;
  const present = (id: number) => `/api/samples/${id}/file?sample_rate=48000&sample_format=float32`;
  const total = Object.values(counts).reduce((sum, count) => sum + count, 0);
  return (
    <>
      <p className="mt-1 flex flex-wrap gap-x-4 text-[12.5px]">
        {Object.entries(counts).map(([kind, count]) => (
          <span key={kind} className={KINDS[kind]?.colour}>
            <span className="figure">{count}</span> {KINDS[kind]?.words ?? kind}
          </span>
        ))}
      </p>
      <ul className="mt-2 max-h-[320px] overflow-y-auto text-[12.5px]">
        {changes.map(({ kind, sample_id, before, after }) => {
          const known = KINDS[kind] ?? { words: kind, glyph: "?", colour: "" };
          const was = fileOf(before, since);
          const is = number ? fileOf(after, number) : after ? present(sample_id) : null;
          return (
            <li
              key={`${kind}-${sample_id}`}
              className="flex items-center gap-2 border-t border-line py-1"
            >
              <span className={`w-36 ${known.colour}`}>
                {known.glyph} {known.words}
              </span>
              <span
                className="min-w-0 flex-1 truncate font-medium"
                title={text(after ?? before, "path")}
              >
                {kind === "renamed" && `${text(before, "path")} → `}
                {text(after ?? before, "path")}
              </span>
              <span className="figure text-ink-2">
                {kind === "sound"
                  ? `${loudness(before)} → ${loudness(after)}`
                  : loudness(after ?? before)}
              </span>
              <Hear label="Before" url={was} />
              <Hear label={was ? "After" : "Hear"} url={is} />
            </li>
          );
        })}
        {total > changes.length && (
          <li className="border-t border-line py-1 text-ink-2">
            and {total - changes.length} more
          </li>
        )}
      </ul>
    </>
  );
}

function Hear({ label, url }: { label: string; url: string | null }) {
  if (!url) return <span className="w-[76px]" />;
  return (
    <button
      type="button"
      onClick={() => void playUrl(url, url)}
      className="inline-flex min-h-7 w-[76px] items-center gap-1 rounded-control border border-line-strong bg-sheet px-2 hover:bg-band"
    >
      <Play size={12} aria-hidden /> {label}
    </button>
  );
}
