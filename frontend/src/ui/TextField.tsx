import { type InputHTMLAttributes, useId } from "react";

interface Props extends InputHTMLAttributes<HTMLInputElement> {
  label: string;
  hint?: string;
  problem?: string | null;
  /** Whether it holds a number or code. */
  figure?: boolean;
}

/** A labelled line of text; what is wrong with it stands under it. */
export function TextField({ label, hint, problem, figure, className = "", ...rest }: Props) {
  const id = useId();
  return (
    <div className={`grid gap-1 ${className}`}>
      <label htmlFor={id} className="text-[12.5px]">
        {label}
      </label>
      <input
        id={id}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem || hint ? `${id}-words` : undefined}
        className={`h-8 w-full rounded-control border bg-sheet px-2 ${figure ? "figure" : ""} ${problem ? "border-bad" : "border-line-strong"}`}
        {...rest}
      />
      {(problem || hint) && (
        <p id={`${id}-words`} className={`text-[12px] ${problem ? "text-bad" : "text-ink-2"}`}>
          {problem ?? hint}
        </p>
      )}
    </div>
  );
}
