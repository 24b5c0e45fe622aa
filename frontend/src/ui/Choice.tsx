import { useId } from "react";

interface Props<Value extends string> {
  label: string;
  value: Value;
  options: readonly (readonly [Value, string])[];
  onChange: (value: Value) => void;
  className?: string;
  hidden?: boolean;
  disabled?: boolean;
}

/** One of several, with its label above. */
export function Choice<Value extends string>({
  label,
  value,
  options,
  onChange,
  className = "",
  hidden = false,
  disabled = false,
}: Props<Value>) {
  const id = useId();
  return (
    <div className={`grid min-w-0 gap-1 text-[12.5px] ${className}`}>
      <label htmlFor={id} className={hidden ? "sr-only" : ""}>
        {label}
      </label>
      <select
        id={id}
        value={value}
        disabled={disabled}
        onChange={(event) => {
          const chosen = options.find(([one]) => one === event.target.value);
          if (chosen) onChange(chosen[0]);
        }}
        className="h-8 w-full min-w-0 rounded-control border border-line-strong bg-sheet px-2 text-[13px] disabled:opacity-50"
      >
        {options.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </select>
    </div>
  );
}
