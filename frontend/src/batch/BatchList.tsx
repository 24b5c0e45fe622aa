import { useQueryClient } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, errorText, resultOf, succeeded, type BatchItem } from "../api";
import { ActionMenu, Button, useTitle } from "../ui";
import { SoundPicker } from "./SoundPicker";
import { useBatches } from "./useBatches";

/** All batches, with what can be done with each; and how to begin one. */
export function BatchList() {
  const batches = useBatches();
  const binned = useBatches(true);
  const [showBin, setShowBin] = useState(false);
  const [picking, setPicking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();
  useTitle("Batches", "Batch");
  const shown = showBin ? binned.data : batches.data;
  const begin = async (sound: number) => {
    try {
      const params = { path: { sound_id: sound } };
      const body = { spreads: [], draws: 64 };
      const made = await resultOf(api.POST("/api/sounds/{sound_id}/batches", { params, body }));
      await queries.invalidateQueries({ queryKey: ["batches"] });
      void navigate(`/batch/${made.id}`);
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  return (
    <main id="work" tabIndex={-1} className="min-w-0 flex-1 overflow-y-auto p-6">
      <div className="mx-auto max-w-[860px]">
        <div className="mb-4 flex flex-wrap items-center gap-2">
          <h1 className="mr-auto font-title text-[22px] font-semibold">
            {showBin ? "Batches in the bin" : "Batches"}
          </h1>
          {(binned.data?.length ?? 0) > 0 && (
            <Button look="quiet" onClick={() => setShowBin(!showBin)}>
              {showBin ? "Back to all" : `Bin (${binned.data?.length ?? 0})`}
            </Button>
          )}
          <Button look="action" onClick={() => setPicking(true)}>
            <Plus size={15} aria-hidden /> New batch
          </Button>
        </div>
        {(problem ?? batches.error?.message) && (
          <p role="alert" className="mb-3 text-bad">
            {problem ?? batches.error?.message}
          </p>
        )}
        {shown?.length === 0 && !showBin && <Empty />}
        <ul className="grid gap-2">
          {shown?.map((one) => (
            <Row key={one.id} item={one} onProblem={setProblem} />
          ))}
        </ul>
      </div>
      <SoundPicker
        open={picking}
        title="Make variations of which sound?"
        onClose={() => setPicking(false)}
        onPick={(sound) => {
          setPicking(false);
          void begin(sound);
        }}
      />
    </main>
  );
}

function Empty() {
  return (
    <div className="rounded-card border border-line-strong bg-sheet p-6">
      <p className="mb-1 font-semibold">From one sound to all the variations a game needs</p>
      <p className="max-w-[60ch] text-ink-2">
        A batch varies a sound by notes, velocities and macros, and scatters its numbers. Judge the
        members by ear and by figures, breed the good ones, and keep them as a variation group.
      </p>
    </div>
  );
}

interface RowProps {
  item: BatchItem;
  onProblem: (words: string | null) => void;
}

function Row({ item, onProblem }: RowProps) {
  const queries = useQueryClient();
  const params = { path: { batch_id: item.id } };
  const act = (request: () => Promise<unknown>) => () => {
    onProblem(null);
    request()
      .then(() => queries.invalidateQueries({ queryKey: ["batches"] }))
      .catch((error: unknown) => onProblem(errorText(error)));
  };
  const bin = (binned: boolean) =>
    succeeded(api.PUT("/api/batches/{batch_id}/bin", { params, body: { binned } }));
  return (
    <li className="flex items-center gap-3 rounded-card border border-line-strong bg-sheet px-3 py-2">
      {item.deleted ? (
        <span className="font-semibold">{item.name}</span>
      ) : (
        <Link to={`/batch/${item.id}`} className="min-w-0 truncate py-1 font-semibold underline">
          {item.name}
        </Link>
      )}
      <span className="ml-auto shrink-0 text-[12px] text-ink-2">
        {item.library_name} · {new Date(item.changed).toLocaleString()}
      </span>
      {item.deleted ? (
        <Button onClick={act(() => bin(false))}>Restore</Button>
      ) : (
        <ActionMenu
          label={`More for ${item.name}`}
          className="grid size-8 place-items-center rounded-control hover:bg-band"
          anchor="bottom end"
          actions={[
            {
              label: "Duplicate",
              act: act(() => resultOf(api.POST("/api/batches/{batch_id}/copies", { params }))),
            },
            { label: "Move to bin", act: act(() => bin(true)) },
          ]}
        >
          …
        </ActionMenu>
      )}
    </li>
  );
}
