import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, errorText, librariesQuery, mayDo, resultOf, TRYOUT_DEFAULTS } from "../api";
import { useNavigate } from "react-router";
import { Button, Choice, DialogFrame } from "../ui";
import { saveBatch } from "./autosave";
import { useBatch } from "./store";

interface Props {
  onClose: () => void;
  onShow: (libraryId: number, sampleIds: number[]) => void;
}

/** A try-out of one part that plays a group, made for its game test. */
async function gameTestOf(name: string, samples: number[], library: number): Promise<number> {
  const plays = {
    ...TRYOUT_DEFAULTS.group,
    samples: samples.slice(0, 200),
  };
  const part = { ...TRYOUT_DEFAULTS.part, id: "family", name: name.slice(0, 60), plays };
  const document = {
    ...TRYOUT_DEFAULTS.tryout,
    name: `${name.slice(0, 100)} as a game`,
    length_s: 4,
    parts: [part],
    game: { ...TRYOUT_DEFAULTS.game, part: "family" },
  };
  const body = { library_id: library, document };
  return (await resultOf(api.POST("/api/tryouts", { body }))).id;
}

/** Members marked to be kept become samples of one variation group. */
export function KeepDialog({ onClose, onShow }: Props) {
  const queries = useQueryClient();
  const navigate = useNavigate();
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
  const gameTest = async () => {
    try {
      const id = await gameTestOf(group, made ?? [], Number(library));
      await queries.invalidateQueries({ queryKey: ["tryouts"] });
      void navigate(`/tryout/${id}#game`);
    } catch (error) {
      setProblem(errorText(error));
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
          <Button
            title="A try-out that triggers them as a game would, and lists neighbours that are too alike"
            onClick={() => void gameTest()}
          >
            Game test
          </Button>
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
