import type { MemberRules } from "../api";
import { BATCH_KINDS, useVocabulary, wordsWith } from "../api";
import { FieldRow } from "../ui";
import { editPlan, useBatch } from "./store";
import { TypedField } from "./TypedField";

const CONTEXT = { tempoBpm: 120 };
const FIELDS = /\{(\w+)/g;
const KNOWN = ["sound", "family", "number", "note", "velocity", "hit", "hold", "rate"];

const numberOf = (name: string) => BATCH_KINDS.members.parameters.find((one) => one.name === name);

function put(words: string, change: Partial<MemberRules>, gesture: string | null = null): void {
  editPlan(words, (plan) => ({ ...plan, members: { ...plan.members, ...change } }), gesture);
}

/** What every member gets: loudness, ceiling, end, name, group, tags. */
export function MemberRulesForm({ rules }: { rules: MemberRules }) {
  const ceiling = numberOf("ceiling_db");
  const fade = numberOf("fade_s");
  return (
    <section className="border-t border-line pt-2">
      <h3 className="text-[12px] font-semibold">Each member</h3>
      <Row label="Loudness">
        <TypedField
          label="Loudness"
          className="flex-1"
          placeholder="as it comes"
          value={rules.loudness_lufs === null ? "" : `${rules.loudness_lufs} LUFS`}
          take={(typed) => {
            if (typed.trim() === "")
              return (put("Loudness: as it comes", { loudness_lufs: null }), null);
            const value = Number(typed.replace(/lufs/i, "").replace("−", "-").trim());
            if (!(value >= -60 && value <= 0)) return "From −60 to 0 LUFS, or empty";
            put(`Loudness: ${value} LUFS`, { loudness_lufs: value });
            return null;
          }}
        />
      </Row>
      {ceiling && (
        <FieldRow
          parameter={ceiling}
          value={rules.ceiling_db}
          context={CONTEXT}
          onChange={({ value, moving }) =>
            put(`Ceiling: ${value} dB`, { ceiling_db: value }, moving ? "ceiling" : null)
          }
        />
      )}
      {fade && (
        <FieldRow
          parameter={fade}
          value={rules.fade_s}
          context={CONTEXT}
          onChange={({ value, moving }) => put("Fade", { fade_s: value }, moving ? "fade" : null)}
        />
      )}
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={rules.trim}
          onChange={(event) =>
            put(event.target.checked ? "Ends trimmed" : "Ends left", { trim: event.target.checked })
          }
        />
        Trim silence at the end
      </label>
      <Row label="Name">
        <TypedField
          label="Name of members"
          className="flex-1"
          value={rules.name}
          take={(typed) => {
            const unknown = [...typed.matchAll(FIELDS)].find(
              ([, one]) => !KNOWN.includes(one ?? ""),
            );
            if (unknown) return `Use ${KNOWN.map((one) => `{${one}}`).join(" ")}`;
            if (typed.trim() === "") return "A name is needed";
            put(`Name: ${typed}`, { name: typed.trim() });
            return null;
          }}
        />
      </Row>
      <Row label="Group">
        <TypedField
          label="Variation group"
          className="flex-1"
          placeholder="the batch’s name"
          value={rules.group}
          take={(typed) => (put(`Group: ${typed}`, { group: typed.trim().slice(0, 80) }), null)}
        />
      </Row>
      <Category value={rules.category} />
      <Row label="Tags">
        <TypedField
          label="Tags"
          className="flex-1"
          placeholder="the sound’s"
          value={rules.tags.join(", ")}
          take={(typed) => {
            const tags = typed
              .split(",")
              .map((one) => one.trim())
              .filter((one) => one !== "");
            if (tags.some((one) => one.length > 40) || tags.length > 24)
              return "At most 24 tags of 40 letters";
            put(`Tags: ${tags.join(", ")}`, { tags });
            return null;
          }}
        />
      </Row>
    </section>
  );
}

function Category({ value }: { value: string }) {
  const library = useBatch((state) => state.opened?.libraryId);
  const vocabulary = useVocabulary(library);
  const words = wordsWith(Object.keys(vocabulary.data?.categories ?? {}), value);
  return (
    <Row label="Category">
      <select
        aria-label="Category"
        className="h-6 min-w-0 flex-1 rounded-sm border-b border-dotted border-ink-3 bg-transparent text-right"
        value={value}
        onChange={(event) =>
          put(`Category: ${event.target.value || "the sound’s"}`, { category: event.target.value })
        }
      >
        <option value="">the sound’s</option>
        {words.map((word) => (
          <option key={word}>{word}</option>
        ))}
      </select>
    </Row>
  );
}

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex min-h-6 items-start gap-2">
      <span className="w-[92px] shrink-0 leading-6">{label}</span>
      {children}
    </div>
  );
}
