import { useState } from "react";
import type { PlanNumber } from "../api";
import { DialogFrame, formatValue, TextField, type Unit } from "../ui";

interface Props {
  open: boolean;
  numbers: readonly PlanNumber[];
  onClose: () => void;
  onPick: (number: PlanNumber) => void;
}

const MOST = 80;

/** Any number of the sound, found by typing. */
export function NumberPicker({ open, numbers, onClose, onPick }: Props) {
  const [words, setWords] = useState("");
  const wanted = words.toLowerCase().split(/\s+/);
  const found = numbers.filter(({ owner, label }) =>
    wanted.every((word) => `${owner} ${label}`.toLowerCase().includes(word)),
  );
  return (
    <DialogFrame open={open} onClose={onClose} title="Spread which number?">
      <TextField
        label="Find a number"
        autoFocus
        placeholder="cutoff, body pitch, decay"
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <ul className="mt-2 max-h-[46dvh] overflow-y-auto">
        {found.slice(0, MOST).map((one) => (
          <li key={one.target}>
            <button
              type="button"
              className="flex w-full items-baseline gap-2 rounded-sm px-2 py-1 text-left hover:bg-band"
              onClick={() => onPick(one)}
            >
              <span className="min-w-0 truncate">
                {one.owner}: {one.label}
              </span>
              <span className="figure ml-auto shrink-0 text-ink-2">
                {formatValue(one.base, one.unit as Unit)}
              </span>
            </button>
          </li>
        ))}
        {found.length > MOST && (
          <li className="px-2 py-1 text-[12px] text-ink-2">
            {found.length - MOST} more: type a word of the one you look for
          </li>
        )}
        {found.length === 0 && <li className="p-2 text-ink-2">No number is called so.</li>}
      </ul>
    </DialogFrame>
  );
}
