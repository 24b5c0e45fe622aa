import { useId, useState } from "react";

interface Props {
  label: string;
  value: string;
  editable: boolean;
  /** Whether changes are on their way also from elsewhere: then the value may be an older one. */
  saving?: boolean;
  problem: string | null;
  /** Answers whether it was saved, once what is saved can be seen. */
  onSave: (value: string) => Promise<boolean>;
  long?: boolean;
  figure?: boolean;
}

/** A text that saves itself when it is left or Enter is pressed; Escape brings the former back. */
export function SavedField(props: Props) {
  const { label, value, editable, saving, problem, onSave, long, figure } = props;
  const id = useId();
  const [underWay, setUnderWay] = useState(0);
  // What is typed stays until it is saved, and is then shown as it was read: "c#4" as "C#4". It is
  // saved on top of what was seen when typing began, so that what came meanwhile is noticed.
  const [typed, setTyped] = useState<{ text: string; save: Props["onSave"] } | null>(null);
  if (typed?.text === value && !saving && underWay === 0) setTyped(null);
  const type = (text: string) => setTyped((now) => ({ text, save: now?.save ?? onSave }));
  const leave = async () => {
    if (typed === null) return;
    setUnderWay((count) => count + 1);
    const saved = await typed.save(typed.text).finally(() => setUnderWay((count) => count - 1));
    if (!saved) return;
    // Someone may have gone on typing.
    setTyped((now) => (now?.text === typed.text ? null : now));
  };
  const shared = {
    id,
    value: typed?.text ?? value,
    disabled: !editable,
    onBlur: () => void leave(),
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
          onChange={(event) => type(event.target.value)}
        />
      ) : (
        <input
          {...shared}
          className={`${shared.className} h-7`}
          onChange={(event) => type(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
            if (event.key === "Escape") setTyped(null);
          }}
        />
      )}
      {problem && <p className="text-[12px] text-bad">{problem}</p>}
    </div>
  );
}
