import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { EMPTY_QUERY, searchPage, useSounds, type Side } from "../api";
import { TextField } from "../ui";

interface Props {
  label: string;
  onPick: (side: Side) => void;
}

const MOST = 8;

/** A sample or a sound, found by typing. */
export function SidePicker({ label, onPick }: Props) {
  const [typed, setTyped] = useState("");
  const words = useDeferredValue(typed.trim());
  const samples = useQuery(searchPage({ ...EMPTY_QUERY, words }, 0));
  const sounds = useSounds();
  const found = (sounds.data ?? [])
    .filter(({ name, deleted }) => !deleted && name.toLowerCase().includes(words.toLowerCase()))
    .slice(0, MOST);
  const option =
    "flex w-full items-baseline gap-2 rounded-sm px-2 py-1 text-left hover:bg-band focus-visible:bg-band";
  return (
    <div className="grid gap-2">
      <TextField
        label={label}
        placeholder="Name of a sample or sound"
        autoFocus
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <div className="grid grid-cols-2 gap-3 narrow:grid-cols-1">
        <section>
          <h3 className="text-[12px] text-ink-2">Samples</h3>
          <ul aria-label="Samples found">
            {samples.data?.samples.slice(0, MOST).map(({ id, name, category }) => (
              <li key={id}>
                <button
                  type="button"
                  className={option}
                  onClick={() => onPick({ kind: "sample", id })}
                >
                  <span className="min-w-0 flex-1 truncate">{name}</span>
                  <span className="text-[11px] text-ink-2">{category}</span>
                </button>
              </li>
            ))}
            {samples.data?.samples.length === 0 && (
              <li className="px-2 text-ink-2">no sample is called so</li>
            )}
          </ul>
        </section>
        <section>
          <h3 className="text-[12px] text-ink-2">Sounds</h3>
          <ul aria-label="Sounds found">
            {found.map(({ id, name }) => (
              <li key={id}>
                <button
                  type="button"
                  className={option}
                  onClick={() => onPick({ kind: "sound", id, revision: null })}
                >
                  <span className="min-w-0 flex-1 truncate">{name}</span>
                </button>
              </li>
            ))}
            {sounds.data && found.length === 0 && (
              <li className="px-2 text-ink-2">no sound is called so</li>
            )}
          </ul>
        </section>
      </div>
    </div>
  );
}
