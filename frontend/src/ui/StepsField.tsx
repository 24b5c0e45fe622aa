import { useState } from "react";

interface Props {
  label: string;
  steps: readonly number[];
  most: number;
  low: number;
  high: number;
  onSteps: (steps: number[]) => void;
}

/** Several semitones typed into one field: "0, 7, 12". */
export function StepsField({ label, steps, most, low, high, onSteps }: Props) {
  const written = steps.join(", ");
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState(false);
  const finish = () => {
    if (typed === null) return;
    const next = typed
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map((one) => Number(one.replace("−", "-")));
    const fine =
      next.length > 0 && next.length <= most && next.every((st) => st >= low && st <= high);
    setProblem(!fine);
    if (!fine) return;
    setTyped(null);
    if (next.join(", ") !== written) onSteps(next);
  };
  return (
    <label className="mb-1 grid gap-0.5">
      {label}
      <input
        className="figure h-7 rounded-control border border-line-strong bg-sheet px-2 text-[12px]"
        value={typed ?? written}
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
        <span role="alert" className="text-[12px] text-bad">
          One to {most} numbers from {String(low).replace("-", "−")} to {high}, with commas between
        </span>
      )}
    </label>
  );
}
