import { useState } from "react";
import type { PartialSet } from "../../api";
import { KeepShapeDialog, useShapes } from "../curves";
import { STARTING_SETS } from "../../sound";

interface Props {
  owner: string;
  partials: PartialSet;
  onChange: (label: string, patch: object, how: { gesture: string; moving: boolean }) => void;
}

const KEEP = "keep";

/** Sets of partials to start from: the stock and one's own, and a way to keep the present one. */
export function StartingSets({ owner, partials, onChange }: Props) {
  const own = useShapes().partials;
  const [keeping, setKeeping] = useState(false);
  const take = (name: string, patch: object) =>
    onChange(`${owner}: partials ${name}`, patch, { gesture: "set", moving: false });
  const choose = (value: string) => {
    if (value === KEEP) return setKeeping(true);
    const stock = STARTING_SETS.find(({ name }) => `stock:${name}` === value);
    if (stock) return take(stock.name, { amplitudes: stock.amplitudes, phases_deg: [] });
    const mine = own.find(({ id }) => `own:${id}` === value);
    if (mine) take(mine.name, mine.partials);
  };
  return (
    <>
      <select
        aria-label="Start from a set of partials"
        className="h-6 min-w-0 rounded-sm border border-line-strong bg-sheet px-1"
        value=""
        onChange={(event) => choose(event.target.value)}
      >
        <option value="">Start from…</option>
        {STARTING_SETS.map(({ name }) => (
          <option key={name} value={`stock:${name}`}>
            {name}
          </option>
        ))}
        {own.length > 0 && (
          <optgroup label="Own">
            {own.map(({ id, name }) => (
              <option key={id} value={`own:${id}`}>
                {name}
              </option>
            ))}
          </optgroup>
        )}
        <option value={KEEP}>Save this set…</option>
      </select>
      <KeepShapeDialog
        title="Save this set of partials"
        open={keeping}
        content={partials}
        kind="partials"
        onClose={() => setKeeping(false)}
      />
    </>
  );
}
