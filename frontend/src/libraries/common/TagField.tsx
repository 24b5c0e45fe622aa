import { X } from "lucide-react";
import { useState } from "react";

interface Props {
  tags: string[];
  suggested: string[];
  editable: boolean;
  problem: string | null;
  onTags: (tags: string[]) => void;
}

/** Tags as chips; a comma or Enter ends one. What was measured suggests some. */
export function TagField({ tags, suggested, editable, problem, onTags }: Props) {
  const [text, setText] = useState("");
  const add = () => {
    const wanted = text
      .split(",")
      .map((one) => one.trim().toLowerCase())
      .filter((one) => one && !tags.includes(one));
    setText("");
    if (wanted.length > 0) onTags([...tags, ...wanted]);
  };
  const more = suggested.filter((one) => !tags.includes(one));
  const chip = "inline-flex min-h-6 items-center gap-1 rounded-full border px-2 text-[12px]";
  return (
    <div>
      <p className="mb-1 text-[12.5px]">Tags</p>
      <div className="flex flex-wrap gap-1">
        {tags.map((tag) => (
          <span key={tag} className={`${chip} border-line-strong bg-band`}>
            {tag}
            {editable && (
              <button
                type="button"
                aria-label={`Remove ${tag}`}
                onClick={() => onTags(tags.filter((one) => one !== tag))}
              >
                <X size={11} aria-hidden />
              </button>
            )}
          </span>
        ))}
        {tags.length === 0 && !editable && <span className="text-ink-2">none</span>}
      </div>
      {editable && (
        <>
          <input
            aria-label="Add a tag"
            placeholder="add a tag"
            value={text}
            onChange={(event) => setText(event.target.value)}
            onBlur={add}
            onKeyDown={(event) => {
              if (event.key !== "Enter" && event.key !== ",") return;
              event.preventDefault();
              add();
            }}
            className="mt-1 h-7 w-full rounded-control border border-line-strong bg-sheet px-2"
          />
          {more.length > 0 && (
            <p className="mt-1.5 flex flex-wrap items-center gap-1 text-[11.5px] text-ink-2">
              measured:
              {more.map((tag) => (
                <button
                  key={tag}
                  type="button"
                  onClick={() => onTags([...tags, tag])}
                  className={`${chip} border-dashed border-line-strong hover:bg-band`}
                >
                  + {tag}
                </button>
              ))}
            </p>
          )}
        </>
      )}
      {problem && <p className="text-[12px] text-bad">{problem}</p>}
    </div>
  );
}
