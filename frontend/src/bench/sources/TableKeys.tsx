import { useState } from "react";

export const MOST_KEYS = 16;

interface KeysProps {
  count: number;
  onAdd: (after: number) => void;
  onRemove: (at: number) => void;
  children: (at: number) => React.ReactNode;
}

/** One of several keys of the selected table. */
export function TableKeys({ count, onAdd, onRemove, children }: KeysProps) {
  const [wanted, setAt] = useState(0);
  const at = Math.min(wanted, count - 1);
  return (
    <div>
      <div role="group" aria-label="Key frames" className="mb-1 flex flex-wrap gap-0.5">
        {Array.from({ length: count }, (_, n) => (
          <button
            key={n}
            type="button"
            aria-pressed={n === at}
            className={`figure size-6 rounded-sm text-[11px] ${n === at ? "bg-ink text-sheet" : "hover:bg-band"}`}
            onClick={() => setAt(n)}
          >
            {n + 1}
          </button>
        ))}
        <button
          type="button"
          aria-label="Add one after it"
          className="size-6 rounded-sm text-action hover:bg-band disabled:opacity-45"
          disabled={count >= MOST_KEYS}
          onClick={() => {
            onAdd(at);
            setAt(at + 1);
          }}
        >
          +
        </button>
        <button
          type="button"
          aria-label="Remove it"
          className="size-6 rounded-sm text-ink-2 hover:bg-band disabled:opacity-45"
          disabled={count <= 1}
          onClick={() => onRemove(at)}
        >
          −
        </button>
      </div>
      {children(at)}
    </div>
  );
}
