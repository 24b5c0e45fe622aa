import { useEffect, useRef, useState } from "react";
import {
  fieldProblem,
  errorText,
  useRefreshSamples,
  resultOf,
  api,
  type SampleItem,
} from "../../api";
import { Button, formatValue, parseValue, type Unit } from "../../ui";
import { offerUndo, SavedField } from "../common";
import { ConflictView } from "./ConflictView";
import { type Conflict, conflictOf } from "./useSampleEdit";

const AT_REST = { start_s: 0, end_s: 0, fade_in_s: 0, fade_out_s: 0, gain_db: 0 };
type Edits = typeof AT_REST;

const FIELDS: [keyof Edits, string, Unit][] = [
  ["start_s", "Start", "s"],
  ["end_s", "End", "s"],
  ["fade_in_s", "Fade in", "s"],
  ["fade_out_s", "Fade out", "s"],
  ["gain_db", "Gain", "dB"],
];

interface Props {
  sample: SampleItem;
  editable: boolean;
}

/** Which part of the file is heard and removed, with fades and a gain; the file stays. */
export function EditsSection({ sample, editable }: Props) {
  const refresh = useRefreshSamples();
  const [problem, setProblem] = useState<unknown>(null);
  const [typed, setTyped] = useState<{ name: keyof Edits; message: string } | null>(null);
  const edits: Edits = { ...AT_REST, ...sample.edits };
  const edited = Object.keys(sample.edits).length > 0;
  // One after the other, each on top of what the ones before it brought about: two fields left
  // quickly, or a field and the button, do not undo each other.
  const wanted = useRef(edits);
  const version = useRef(sample.version);
  const sending = useRef<Promise<boolean>>(Promise.resolve(true));
  const saved = JSON.stringify(edits);
  useEffect(() => {
    wanted.current = JSON.parse(saved) as Edits;
  }, [saved]);
  useEffect(() => {
    version.current = sample.version;
  }, [sample.version]);
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const [givenUp, setGivenUp] = useState(0);
  const send = async (changes: Partial<Edits>): Promise<boolean> => {
    const now = { ...wanted.current, ...changes };
    const body = { ...now, base_version: version.current };
    try {
      const params = { path: { sample_id: sample.id } };
      const made = await resultOf(api.PUT("/api/samples/{sample_id}/edits", { params, body }));
      wanted.current = now;
      version.current = made.version;
      setConflict(null);
      offerUndo(made.gesture, `edits of ${sample.name} changed`);
      setProblem(null);
      await refresh();
      return true;
    } catch (error) {
      const found = conflictOf(error);
      setConflict(found);
      setProblem(found ? null : error);
      return false;
    }
  };
  const settle = (kept: unknown) => {
    if (conflict) version.current = conflict.version;
    void put({ ...AT_REST, ...(kept as Partial<Edits>) });
  };
  const put = (changes: Partial<Edits>) => {
    setTyped(null);
    sending.current = sending.current.then(() => send(changes));
    return sending.current;
  };
  const save = async (name: keyof Edits, unit: Unit, text: string) => {
    const rest = text.trim() === "" || text.trim().toLowerCase() === "its own";
    const read = parseValue(text, unit, { tempoBpm: sample.tempo_bpm ?? 120 });
    if (rest || read.ok) return put({ [name]: read.ok && !rest ? read.value : 0 });
    setTyped({ name, message: read.message });
    return false;
  };
  const shown = (name: keyof Edits, unit: Unit) =>
    name === "end_s" && edits.end_s === 0 ? "its own" : formatValue(edits[name], unit);
  const known = FIELDS.some(([name]) => fieldProblem(problem, name));
  return (
    <details className="mt-3" open={edited || undefined}>
      <summary className="min-h-6 cursor-pointer font-medium">Trim, fades and gain</summary>
      <div className="mt-1 grid grid-cols-2 items-start gap-2">
        {FIELDS.map(([name, label, unit]) => (
          <SavedField
            key={`${name} ${givenUp}`}
            label={label}
            figure
            value={shown(name, unit)}
            editable={editable}
            problem={typed?.name === name ? typed.message : fieldProblem(problem, name)}
            onSave={(text) => save(name, unit, text)}
          />
        ))}
      </div>
      {conflict && (
        <ConflictView
          conflict={conflict}
          onMine={() => settle(conflict.yours["edits"])}
          onTheirs={() => {
            setConflict(null);
            setGivenUp(givenUp + 1);
            void refresh();
          }}
        />
      )}
      {problem !== null && !known && (
        <p role="alert" className="mt-2 text-bad">
          {errorText(problem)}
        </p>
      )}
      <p className="mt-2 text-[12px] text-ink-2">The file itself is not changed.</p>
      {edited && editable && (
        <Button className="mt-2" onClick={() => void put(AT_REST)}>
          Reset
        </Button>
      )}
    </details>
  );
}
