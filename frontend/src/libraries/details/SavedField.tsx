import { useId, useState } from "react";

interface Props {
  label: string;
  value: string;
  editable: boolean;
  problem: string | null;
  onSave: (value: string) => void;
  long?: boolean;
  figure?: boolean;
}

/** A text that saves itself when it is left or Enter is pressed; Escape brings the former back. */
export function SavedField({ label, value, editable, problem, onSave, long, figure }: Props) {
  const id = useId();
  const [text, setText] = useState(value);
  const leave = () => {
    if (text !== value) onSave(text);
  };
  const shared = {
    id,
    value: text,
    disabled: !editable,
    onBlur: leave,
    className: `w-full rounded-control border bg-sheet px-2 disabled:opacity-70 ${problem ? "border-bad" : "border-line-strong"} ${figure ? "figure" : ""}`,
  };
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="text-[12.5px]">
        {label}
      </label>
      {long ? (
        <textarea
          {...shared}
          rows={2}
          className={`${shared.className} py-1`}
          onChange={(event) => setText(event.target.value)}
        />
      ) : (
        <input
          {...shared}
          className={`${shared.className} h-7`}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
            if (event.key === "Escape") setText(value);
          }}
        />
      )}
      {problem && <p className="text-[12px] text-bad">{problem}</p>}
    </div>
  );
}
