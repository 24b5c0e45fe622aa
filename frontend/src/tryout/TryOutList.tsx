import { useQueryClient } from "@tanstack/react-query";
import { FileUp, Plus } from "lucide-react";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import {
  api,
  ApiError,
  errorText,
  libraryForNewSounds,
  refusal,
  resultOf,
  succeeded,
  TRYOUT_DEFAULTS,
  type TryOutItem,
} from "../api";
import { useTryOuts } from "../loop";
import { ActionMenu, Button, useTitle } from "../ui";

/** All try-outs, with what can be done with each; and how to begin one. */
export function TryOutList() {
  const tryouts = useTryOuts();
  const binned = useTryOuts(true);
  const [showBin, setShowBin] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  useTitle("Try-outs", "Try-out");
  const shown = showBin ? binned.data : tryouts.data;
  return (
    <main id="work" tabIndex={-1} className="min-w-0 flex-1 overflow-y-auto p-6">
      <div className="mx-auto max-w-[860px]">
        <div className="mb-4 flex flex-wrap items-center gap-2">
          <h1 className="mr-auto font-title text-[22px] font-semibold">
            {showBin ? "Try-outs in the bin" : "Try-outs"}
          </h1>
          {(binned.data?.length ?? 0) > 0 && (
            <Button look="quiet" onClick={() => setShowBin(!showBin)}>
              {showBin ? "Back to all" : `Bin (${binned.data?.length ?? 0})`}
            </Button>
          )}
          <ImportButton onProblem={setProblem} />
          <NewButton onProblem={setProblem} />
        </div>
        {(problem ?? tryouts.error?.message) && (
          <p role="alert" className="mb-3 text-bad">
            {problem ?? tryouts.error?.message}
          </p>
        )}
        {shown?.length === 0 && !showBin && <Empty />}
        <ul className="grid gap-2">
          {shown?.map((one) => (
            <Row key={one.id} item={one} onProblem={setProblem} />
          ))}
        </ul>
      </div>
    </main>
  );
}

function Empty() {
  return (
    <div className="rounded-card border border-line-strong bg-sheet p-6">
      <p className="mb-1 font-semibold">Hear sounds where they will be used</p>
      <p className="max-w-[60ch] text-ink-2">
        A try-out places sounds, samples, variation groups and a bed in time. Begin with New
        try-out, or open a sound on the Bench and press In context.
      </p>
    </div>
  );
}

interface RowProps {
  item: TryOutItem;
  onProblem: (words: string | null) => void;
}

function Row({ item, onProblem }: RowProps) {
  const queries = useQueryClient();
  const params = { path: { tryout_id: item.id } };
  const act = (request: () => Promise<unknown>) => () => {
    onProblem(null);
    request()
      .then(() => queries.invalidateQueries({ queryKey: ["tryouts"] }))
      .catch((error: unknown) => onProblem(errorText(error)));
  };
  const bin = (isBinned: boolean) =>
    succeeded(api.PUT("/api/tryouts/{tryout_id}/bin", { params, body: { binned: isBinned } }));
  return (
    <li className="flex items-center gap-3 rounded-card border border-line-strong bg-sheet px-3 py-2">
      {item.deleted ? (
        <span className="font-semibold">{item.name}</span>
      ) : (
        <Link to={`/tryout/${item.id}`} className="min-w-0 truncate py-1 font-semibold underline">
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
              act: act(() => resultOf(api.POST("/api/tryouts/{tryout_id}/copies", { params }))),
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

function NewButton({ onProblem }: { onProblem: (words: string | null) => void }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const make = async () => {
    try {
      const { id } = await libraryForNewSounds();
      const length = { length_s: 8, in_beats: { length_s: 16 } };
      const document = { ...TRYOUT_DEFAULTS.tryout, name: "New try-out", ...length };
      const made = await resultOf(api.POST("/api/tryouts", { body: { library_id: id, document } }));
      await queries.invalidateQueries({ queryKey: ["tryouts"] });
      void navigate(`/tryout/${made.id}`);
    } catch (error) {
      onProblem(errorText(error));
    }
  };
  return (
    <Button look="action" onClick={() => void make()}>
      <Plus size={15} aria-hidden /> New try-out
    </Button>
  );
}

function ImportButton({ onProblem }: { onProblem: (words: string | null) => void }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const send = async (file: File) => {
    setBusy(true);
    onProblem(null);
    try {
      const { id } = await libraryForNewSounds();
      const form = new FormData();
      form.append("file", file);
      const response = await fetch(`/api/libraries/${id}/tryouts`, { method: "POST", body: form });
      const answer = (await response.json()) as { tryout_id: number };
      if (!response.ok) throw refusal(response.status, answer);
      await queries.invalidateQueries({ queryKey: ["tryouts"] });
      void navigate(`/tryout/${answer.tryout_id}`);
    } catch (error) {
      onProblem(error instanceof ApiError ? error.message : "The file could not be imported");
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Button disabled={busy} onClick={() => input.current?.click()}>
        <FileUp size={15} aria-hidden /> {busy ? "Importing…" : "Import"}
      </Button>
      <input
        ref={input}
        type="file"
        accept=".zip"
        aria-label="Try-out file"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) void send(file);
        }}
      />
    </>
  );
}
