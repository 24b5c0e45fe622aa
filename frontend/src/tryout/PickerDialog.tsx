import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  allIds,
  EMPTY_QUERY,
  searchPage,
  TRYOUT_DEFAULTS,
  useSounds,
  type Plays,
  type SampleItem,
} from "../api";
import { playUrl } from "../audio";
import { DialogFrame, TextField } from "../ui";

export type PickKind = Plays["kind"];

const TITLES: Record<PickKind, string> = {
  sound: "Choose a sound",
  sample: "Choose a sample",
  group: "Choose a variation group",
  bed: "Choose a bed: a loop or an ambience",
};

interface Props {
  kind: PickKind | null;
  onClose: () => void;
  onPick: (name: string, plays: Plays) => void;
}

/** What a part shall play, found by its words; a sample is heard by a press. */
export function PickerDialog({ kind, onClose, onPick }: Props) {
  return (
    <DialogFrame open={kind !== null} onClose={onClose} title={kind ? TITLES[kind] : ""} wide>
      {kind && <Picker key={kind} kind={kind} onPick={onPick} />}
    </DialogFrame>
  );
}

function Picker({ kind, onPick }: { kind: PickKind; onPick: Props["onPick"] }) {
  const [words, setWords] = useState("");
  return (
    <div className="grid gap-3">
      <TextField
        label="Search"
        autoFocus
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <div className="h-[46vh] overflow-y-auto rounded-control border border-line-strong bg-sheet">
        {kind === "sound" ? (
          <Sounds words={words} onPick={onPick} />
        ) : (
          <Samples kind={kind} words={words} onPick={onPick} />
        )}
      </div>
    </div>
  );
}

function Sounds({ words, onPick }: { words: string; onPick: Props["onPick"] }) {
  const sounds = useSounds();
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const found = (sounds.data ?? []).filter((sound) =>
    wanted.every((word) => `${sound.name} ${sound.category}`.toLowerCase().includes(word)),
  );
  return (
    <Rows
      empty={sounds.isLoading ? "" : "No sound has these words"}
      rows={found.map((sound) => ({
        key: `${sound.id}`,
        name: sound.name,
        about: `${sound.library_name}${sound.category ? ` · ${sound.category}` : ""}`,
        pick: () => onPick(sound.name, { kind: "sound", sound: sound.id, revision: null }),
      }))}
    />
  );
}

interface SamplesProps {
  kind: "sample" | "group" | "bed";
  words: string;
  onPick: Props["onPick"];
}

function Samples({ kind, words, onPick }: SamplesProps) {
  const query = { ...EMPTY_QUERY, words };
  const found = useQuery(searchPage(query, 0));
  const samples = found.data?.samples ?? [];
  const shown = kind === "group" ? firstOfGroups(samples) : samples;
  const pick = async (sample: SampleItem) => {
    if (kind === "group") {
      const own = { ...EMPTY_QUERY, group: sample.variation_group };
      const ids = await allIds({ ...own, libraries: [sample.library_id] });
      const group = {
        ...TRYOUT_DEFAULTS.group,
        kind: "group" as const,
        samples: ids.slice(0, 200),
      };
      onPick(sample.variation_group, group);
    } else if (kind === "bed") {
      const bed = { ...TRYOUT_DEFAULTS.bed, kind: "bed" as const, sample: sample.id };
      onPick(sample.name, { ...bed, tempo_bpm: sample.tempo_bpm ?? 0 });
    } else {
      onPick(sample.name, { kind: "sample", sample: sample.id });
    }
  };
  const empty =
    kind === "group" ? "No variation group has these words" : "No sample has these words";
  return (
    <Rows
      empty={found.isLoading ? "" : (found.error?.message ?? empty)}
      rows={shown.map((sample) => ({
        key: `${sample.id}`,
        name: kind === "group" ? sample.variation_group : sample.name,
        about: `${sample.library_name} · ${sample.length_s.toFixed(2)} s${sample.note ? ` · ${sample.note}` : ""}`,
        hear: () => void playUrl(`/api/samples/${sample.id}/file`, `sample ${sample.id}`),
        pick: () => void pick(sample),
      }))}
    />
  );
}

function firstOfGroups(samples: SampleItem[]): SampleItem[] {
  const seen = new Set<string>();
  return samples.filter(({ variation_group, library_id }) => {
    const key = `${library_id} ${variation_group}`;
    if (variation_group === "" || seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}

interface Row {
  key: string;
  name: string;
  about: string;
  hear?: () => void;
  pick: () => void;
}

function Rows({ rows, empty }: { rows: Row[]; empty: string }) {
  if (rows.length === 0) return <p className="p-4 text-ink-2">{empty}</p>;
  return (
    <ul>
      {rows.map((row) => (
        <li key={row.key} className="flex items-center border-b border-line">
          <button
            type="button"
            onClick={row.pick}
            className="flex min-h-9 min-w-0 flex-1 items-center gap-2 px-3 text-left hover:bg-band"
          >
            <span className="truncate font-semibold">{row.name}</span>
            <span className="ml-auto shrink-0 text-[12px] text-ink-2">{row.about}</span>
          </button>
          {row.hear && (
            <button
              type="button"
              aria-label={`Hear ${row.name}`}
              className="mr-2 min-h-7 rounded-control px-2 text-[12px] text-action hover:bg-band"
              onClick={row.hear}
            >
              Hear
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
