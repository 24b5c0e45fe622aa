import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, errorText, librariesQuery, mayDo, resultOf } from "../api";
import { Button, Choice, DialogFrame } from "../ui";
import { saveBatch } from "./autosave";
import { useBatch } from "./store";

interface Props {
  onClose: () => void;
  onShow: (libraryId: number, sampleIds: number[]) => void;
}

/** Members marked to be kept become samples of one variation group. */
export function KeepDialog({ onClose, onShow }: Props) {
  const queries = useQueryClient();
  const libraries = useQuery(librariesQuery);
  const rows = useBatch((state) => state.rows);
  const round = useBatch((state) => state.round);
  const opened = useBatch((state) => state.opened);
  const [library, setLibrary] = useState(`${opened?.libraryId ?? ""}`);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [made, setMade] = useState<number[] | null>(null);
  const numbers = [...rows.values()]
    .filter(({ verdict, sample_id }) => verdict === "kept" && sample_id === null)
    .map(({ number }) => number);
  const possible = libraries.data?.filter((one) => mayDo(one, "sample.add")) ?? [];
  const rules = round?.plan["members"] as { group: string } | undefined;
  const group = (rules?.group ?? "") || `${(round?.plan["name"] as string | undefined) ?? ""}`;
  const keep = async () => {
    if (!round) return;
    setBusy(true);
    try {
      await saveBatch();
      const params = { path: { round_id: round.id } };
      const body = { numbers, library_id: Number(library) };
      const kept = await resultOf(api.POST("/api/rounds/{round_id}/keep", { params, body }));
      useBatch.setState((state) => {
        const next = new Map(state.rows);
        numbers.forEach((number, n) => {
          const row = next.get(number);
          if (row) next.set(number, { ...row, sample_id: kept.sample_ids[n] ?? null });
        });
        return { rows: next };
      });
      setMade(kept.sample_ids);
      await queries.invalidateQueries();
    } catch (error) {
      setProblem(errorText(error));
    } finally {
      setBusy(false);
    }
  };
  if (made !== null)
    return (
      <DialogFrame open onClose={onClose} title={`${made.length} samples kept`}>
        <p className="mb-3">
          They are the variation group “{group}”. Each can be rendered again alone, or all when the
          sound gets a new revision.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Back to the batch</Button>
          <Button look="action" onClick={() => onShow(Number(library), made)}>
            Show in the library
          </Button>
        </div>
      </DialogFrame>
    );
  return (
    <DialogFrame open onClose={onClose} title={`Keep ${numbers.length} members as a group`}>
      <div className="grid gap-3">
        <p>
          Variation group <b>{group}</b>, with numbers, notes and velocities kept for instruments.
          Export as instrument then writes SFZ with key and velocity ranges.
        </p>
        <Choice
          label="Library"
          value={library}
          options={possible.map((one) => [`${one.id}`, one.name] as const)}
          onChange={setLibrary}
        />
        {problem && (
          <p role="alert" className="text-bad">
            {problem}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="action" disabled={busy || library === ""} onClick={() => void keep()}>
            {busy ? "Keeping…" : "Keep"}
          </Button>
        </div>
      </div>
    </DialogFrame>
  );
}
