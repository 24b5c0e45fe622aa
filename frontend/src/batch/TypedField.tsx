import { useId, useState } from "react";

interface Props {
  label: string;
  value: string;
  /** Reads what was typed; words where it is wrong. */
  take: (typed: string) => string | null;
  problem?: string | undefined;
  placeholder?: string;
  className?: string;
}

/** A line that is typed and read as a whole; what is wrong stands under it. */
export function TypedField({ label, value, take, problem, placeholder, className = "" }: Props) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const finish = () => {
    if (typed === null || typed === value) {
      setTyped(null);
      setWrong(null);
      return;
    }
    const words = take(typed);
    setWrong(words);
    if (words === null) setTyped(null);
  };
  const shown = wrong ?? problem ?? null;
  return (
    <span className={`min-w-0 ${className}`}>
      <input
        id={id}
        aria-label={label}
        aria-invalid={shown !== null}
        aria-describedby={shown ? `${id}-words` : undefined}
        spellCheck={false}
        autoComplete="off"
        placeholder={placeholder}
        className={`figure h-6 w-full rounded-sm border-b border-dotted bg-transparent px-1 text-right ${shown ? "border-bad text-bad" : "border-ink-3"}`}
        value={typed ?? value}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => {
          setTyped(event.target.value);
          setWrong(null);
        }}
        onBlur={finish}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") event.currentTarget.blur();
          if (event.key === "Escape") {
            setTyped(null);
            setWrong(null);
          }
        }}
      />
      {shown && (
        <span id={`${id}-words`} role="alert" className="block text-[11px] text-bad">
          {shown}
        </span>
      )}
    </span>
  );
}
