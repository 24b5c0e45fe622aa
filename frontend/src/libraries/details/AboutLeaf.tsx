import { Fragment, useState } from "react";
import {
  fieldProblem,
  errorText,
  type SampleChanges,
  useVocabulary,
  wordsWith,
  type LibraryItem,
  type SampleItem,
} from "../../api";
import { Choice, formatValue, parseValue, type Unit } from "../../ui";
import { STATUS_MARKS, statusText, askAnew, SavedField, TagField } from "../common";
import { ConflictView } from "./ConflictView";
import { StatusMoves } from "./StatusMoves";
import { useSampleEdit } from "./useSampleEdit";

interface Props {
  sample: SampleItem;
  editable: boolean;
  mayRate: boolean;
  library: LibraryItem | undefined;
}

/** Numbers that may be left empty, typed with their units. */
const NUMBERS = {
  variation: ["Variation", ""],
  root_note: ["Root note", "note"],
  tempo_bpm: ["Tempo, bpm", "bpm"],
  loop_start_s: ["Loop start", "s"],
  loop_end_s: ["Loop end", "s"],
} as const satisfies Record<string, readonly [string, Unit]>;

/** What people say of a sample; each field saves itself when it is left, and what is typed into
 * another one meanwhile stays. */
export function AboutLeaf({ sample, editable, mayRate, library }: Props) {
  const edit = useSampleEdit(sample);
  const { problem, conflict, givenUp, save, saving } = edit;
  const [typed, setTyped] = useState<{ name: string; message: string } | null>(null);
  const categories = useVocabulary(sample.library_id).data?.categories ?? {};
  const put = (changes: SampleChanges) => void save(changes);
  const text = (
    name: "name" | "licence" | "author" | "variation_group" | "folder",
    label: string,
  ) => (
    <SavedField
      key={`${name} ${givenUp}`}
      label={label}
      value={sample[name]}
      editable={editable}
      saving={saving}
      problem={fieldProblem(problem, name)}
      onSave={(value) => save({ [name]: value })}
    />
  );
  const number = (name: keyof typeof NUMBERS) => {
    const [label, unit] = NUMBERS[name];
    const value = sample[name];
    return (
      <SavedField
        key={`${name} ${givenUp}`}
        label={label}
        figure
        value={value === null ? "" : formatValue(value, unit)}
        editable={editable}
        saving={saving}
        problem={typed?.name === name ? typed.message : fieldProblem(problem, name)}
        onSave={async (text) => {
          const read = parseValue(text, unit, { tempoBpm: sample.tempo_bpm ?? 120 });
          const empty = text.trim() === "";
          setTyped(read.ok || empty ? null : { name, message: read.message });
          return (read.ok || empty) && (await save({ [name]: read.ok ? read.value : null }));
        }}
      />
    );
  };
  const known = [
    "name",
    "licence",
    "author",
    "folder",
    "tags",
    "description",
    ...Object.keys(NUMBERS),
  ];
  const status = STATUS_MARKS[sample.status];
  return (
    <div className="grid gap-2.5">
      {conflict && (
        <ConflictView conflict={conflict} onMine={edit.keepMine} onTheirs={edit.takeTheirs} />
      )}
      {problem !== null && !known.some((name) => fieldProblem(problem, name)) && (
        <p role="alert" className="text-bad">
          {errorText(problem)}
        </p>
      )}
      <p className="flex items-center justify-between text-[12.5px]">
        <span className={status?.colour}>
          {status?.glyph} {statusText(sample.status)}
        </span>
        <Rating
          value={sample.rating}
          editable={mayRate}
          onRate={(rating) => put({ rating: rating === sample.rating ? 0 : rating })}
        />
      </p>
      <StatusMoves sample={sample} library={library} />
      {text("name", "Name")}
      <div className="grid grid-cols-2 gap-2">
        <Choice
          label="Category"
          value={sample.category}
          disabled={!editable}
          options={[
            ["", "none"],
            ...wordsWith(Object.keys(categories), sample.category).map(
              (one) => [one, one] as const,
            ),
          ]}
          onChange={(category) => put({ category, subcategory: "" })}
        />
        <Choice
          label="Subcategory"
          value={sample.subcategory}
          disabled={!editable || !sample.category}
          options={[
            ["", "none"],
            ...wordsWith(categories[sample.category] ?? [], sample.subcategory).map(
              (one) => [one, one] as const,
            ),
          ]}
          onChange={(subcategory) => put({ subcategory })}
        />
      </div>
      <TagField
        tags={sample.tags}
        suggested={sample.suggested_tags}
        editable={editable}
        problem={fieldProblem(problem, "tags")}
        onTags={(tags) => put({ tags })}
      />
      <SavedField
        key={`description ${givenUp}`}
        label="Description"
        long
        value={sample.description}
        editable={editable}
        saving={saving}
        problem={fieldProblem(problem, "description")}
        onSave={(description) => save({ description })}
      />
      <div className="grid grid-cols-2 gap-2">
        {text("licence", "Licence")}
        {text("author", "Author")}
        {text("variation_group", "Group")}
        {number("variation")}
        {number("root_note")}
        {number("tempo_bpm")}
        {number("loop_start_s")}
        {number("loop_end_s")}
      </div>
      {text("folder", "Folder")}
      {sample.variation_group && (
        <button
          type="button"
          className="justify-self-start text-[12.5px] text-action underline"
          onClick={() =>
            askAnew({ libraries: [sample.library_id], group: sample.variation_group, sort: "name" })
          }
        >
          All variations of {sample.variation_group}
        </button>
      )}
      <label className="flex items-center gap-2 text-[12.5px]">
        <input
          type="checkbox"
          disabled={!editable}
          checked={sample.follows_key}
          onChange={(event) => put({ follows_key: event.target.checked })}
          className="size-3.5 accent-action"
        />
        Follows the key when it is played
      </label>
      <FileWords said={sample.details} />
    </div>
  );
}

const FILE_WORDS = { key: "Key", date: "Made", reference: "Reference", title: "Title" } as const;

/** What the imported file said that is no field here. */
function FileWords({ said }: { said: SampleItem["details"] }) {
  const names = Object.keys(FILE_WORDS) as (keyof typeof FILE_WORDS)[];
  const known = names.filter((name) => said[name]);
  if (known.length === 0) return null;
  return (
    <dl
      aria-label="From the file"
      className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5 border-t border-line pt-2 text-[12.5px]"
    >
      {known.map((name) => (
        <Fragment key={name}>
          <dt className="text-ink-2">{FILE_WORDS[name]}</dt>
          <dd className="min-w-0 truncate" title={said[name]}>
            {said[name]}
          </dd>
        </Fragment>
      ))}
    </dl>
  );
}

interface RatingProps {
  value: number;
  editable: boolean;
  onRate: (rating: number) => void;
}

function Rating({ value, editable, onRate }: RatingProps) {
  return (
    <span role="group" aria-label={`Rating, ${value} of 5`} className="flex">
      {[1, 2, 3, 4, 5].map((one) => (
        <button
          key={one}
          type="button"
          disabled={!editable}
          aria-label={`Rate ${one}`}
          onClick={() => onRate(one)}
          style={{ color: one <= value ? "var(--ochre)" : "var(--ink-3)" }}
          className="size-6"
        >
          {one <= value ? "◆" : "◇"}
        </button>
      ))}
    </span>
  );
}
