import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useId, useState } from "react";
import { api, ApiError, resultOf } from "../api";
import { noteName } from "../ui";
import { folderOf } from "./folders";
import { type ImportRules, readablePath } from "./rules";

interface Props {
  files: File[];
  rules: ImportRules;
  onChange: (rules: ImportRules) => void;
}

const SHOWN = 4;
const MOST_READ = 5000;
const PAUSE_MS = 200;
const EXAMPLE = "{category}_{name}_{variation}";

/** What names, titles and folders say of the samples; shown folded, for files mostly say enough. */
export function RulesForm({ files, rules, onChange }: Props) {
  const inFolders = files.some((file) => folderOf(file) !== "");
  const change = (patch: Partial<ImportRules>) => onChange({ ...rules, ...patch });
  return (
    <details className="rounded-control border border-line px-2.5 py-1.5 text-[12.5px]">
      <summary className="cursor-default font-medium">Names, tags and categories</summary>
      <div className="mt-1.5 grid gap-1.5">
        {inFolders && (
          <>
            <Check
              label="Folder names become tags"
              checked={rules.folderTags}
              onChange={(folderTags) => change({ folderTags })}
            />
            <Check
              label="Folder names may set the category"
              checked={rules.folderCategory}
              onChange={(folderCategory) => change({ folderCategory })}
            />
          </>
        )}
        <Check
          label="Use the title in the file as the name"
          checked={rules.titles}
          onChange={(titles) => change({ titles })}
        />
        <Template
          files={files}
          template={rules.template}
          onChange={(template) => change({ template })}
        />
      </div>
    </details>
  );
}

interface CheckProps {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}

const Check = ({ label, checked, onChange }: CheckProps) => (
  <label className="flex min-h-6 items-center gap-2">
    <input
      type="checkbox"
      className="size-3.5 accent-action"
      checked={checked}
      onChange={({ target }) => onChange(target.checked)}
    />
    {label}
  </label>
);

interface TemplateProps {
  files: File[];
  template: string;
  onChange: (template: string) => void;
}

function Template({ files, template, onChange }: TemplateProps) {
  const id = useId();
  const wanted = useSettled(template.trim());
  const paths = files
    .slice(0, MOST_READ)
    .map((file) => readablePath(folderOf(file), file.name).slice(0, 400));
  const read = useQuery({
    queryKey: ["names", wanted, paths],
    queryFn: () => resultOf(api.POST("/api/names/read", { body: { template: wanted, paths } })),
    enabled: wanted !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });
  const problem =
    wanted === "" || !read.error
      ? null
      : read.error instanceof ApiError
        ? (read.error.problem?.problems?.[0]?.message ?? read.error.message)
        : "The names could not be read";
  const answer = wanted === "" || problem ? null : read.data;
  return (
    <div className="grid gap-1">
      <label htmlFor={id}>Read file names as</label>
      <input
        id={id}
        value={template}
        maxLength={200}
        placeholder={EXAMPLE}
        spellCheck={false}
        aria-describedby={`${id}-read`}
        aria-invalid={problem !== null}
        onChange={({ target }) => onChange(target.value)}
        className="figure h-8 rounded-control border border-line-strong bg-sheet px-2"
      />
      <div id={`${id}-read`} className="grid gap-1">
        {problem && (
          <p role="alert" className="text-bad">
            {problem}
          </p>
        )}
        {answer && (
          <p className="text-ink-2">
            {answer.fitting === paths.length
              ? `All ${paths.length} names fit.`
              : `${answer.fitting} of ${paths.length} names fit; the others keep their file name.`}
          </p>
        )}
        {answer?.names.slice(0, SHOWN).map(({ path, fits, values }) => (
          <p key={path} className="flex gap-2">
            <span className="figure min-w-0 flex-1 truncate" title={path}>
              {path.split("/").at(-1)}
            </span>
            <span className={`min-w-0 flex-1 truncate ${fits ? "" : "text-ink-2"}`}>
              {fits ? valueWords(values) : "does not fit"}
            </span>
          </p>
        ))}
        {wanted === "" && (
          <p className="text-ink-2">
            Braces: name, category, subcategory, group, variation, note, tempo, tag, author, number.
            With a slash, folders are read too.
          </p>
        )}
      </div>
    </div>
  );
}

const FIELD_WORDS: Record<string, string> = {
  variation_group: "group",
  root_note: "note",
  tempo_bpm: "tempo",
  tags: "tag",
};

const valueWords = (values: Record<string, unknown>) =>
  Object.entries(values)
    .map(([field, value]) => {
      const words = field === "root_note" ? noteName(Number(value)) : String(value);
      return `${FIELD_WORDS[field] ?? field} ${words}`;
    })
    .join(" · ");

function useSettled(text: string): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [text]);
  return settled;
}
