import { useState } from "react";

interface WholeProps {
  label: string;
  value: number;
  low: number;
  high: number;
  onValue: (value: number) => void;
}

/** A number of a table, typed. */
export function WholeField({ label, value, low, high, onValue }: WholeProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState(false);
  const finish = () => {
    if (typed === null) return;
    const next = Number(typed);
    const fine = typed.trim() !== "" && next >= low && next <= high;
    setProblem(!fine);
    if (!fine) return;
    setTyped(null);
    if (next !== value) onValue(label.endsWith("Hz") ? next : Math.round(next));
  };
  return (
    <label className="flex min-h-6 items-center justify-between">
      {label}
      <span className="relative">
        <input
          className="figure h-6 w-[88px] border-b border-dotted border-ink-3 bg-transparent px-1 text-right"
          value={typed ?? String(value)}
          aria-invalid={problem}
          onChange={({ target }) => setTyped(target.value)}
          onBlur={finish}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") finish();
            if (event.key === "Escape") {
              setTyped(null);
              setProblem(false);
            }
          }}
        />
        {problem && (
          <span
            role="alert"
            className="absolute top-full right-0 z-20 rounded-sm border border-bad bg-sheet px-2 text-[11px] whitespace-nowrap text-bad"
          >
            {low} to {high}
          </span>
        )}
      </span>
    </label>
  );
}
