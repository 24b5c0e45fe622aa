import { useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { Link } from "react-router";
import { api, errorText, mayDo, resultOf, useLibraries } from "../api";
import { saveTryOut, useTryOut } from "../loop";
import { Button, Choice, DialogFrame, TextField } from "../ui";

/** Render the mix at final quality and keep it as a sample, with all that made it. */
export function KeepMixDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <DialogFrame open={open} onClose={onClose} title="Keep mix">
      <KeepMixForm onClose={onClose} />
    </DialogFrame>
  );
}

function KeepMixForm({ onClose }: { onClose: () => void }) {
  const libraries = useLibraries();
  const queries = useQueryClient();
  const { document, opened } = useTryOut.getState();
  const [name, setName] = useState(document?.name ?? "");
  const [libraryId, setLibraryId] = useState(`${opened?.libraryId ?? ""}`);
  const [state, setState] = useState<"ready" | "busy" | "kept">("ready");
  const [problem, setProblem] = useState<string | null>(null);
  const offered = (libraries.data ?? []).filter((one) => mayDo(one, "sample.add"));
  const keep = async (event: FormEvent) => {
    event.preventDefault();
    setState("busy");
    setProblem(null);
    try {
      await saveTryOut();
      const now = useTryOut.getState();
      if (!now.opened || !now.document) return;
      const params = { path: { tryout_id: now.opened.id } };
      const body = {
        base_version: now.version,
        document: { ...now.document },
        library_id: Number(libraryId),
        name,
        sample_rate: 48000 as const,
      };
      const kept = await resultOf(api.POST("/api/tryouts/{tryout_id}/mixes", { params, body }));
      useTryOut.setState({ version: kept.version });
      await queries.invalidateQueries({ queryKey: ["samples"] });
      await queries.invalidateQueries({ queryKey: ["libraries"] });
      setState("kept");
    } catch (error) {
      setProblem(errorText(error));
      setState("ready");
    }
  };
  if (state === "kept")
    return (
      <div className="grid gap-3">
        <p role="status">“{name}” is a sample now. Its details name every part that made it.</p>
        <div className="flex justify-end gap-2">
          <Link
            to={`/libraries/${libraryId}`}
            className="inline-flex min-h-8 items-center rounded-control border border-line-strong bg-sheet px-3 font-medium"
          >
            Open the library
          </Link>
          <Button look="action" onClick={onClose}>
            Done
          </Button>
        </div>
      </div>
    );
  return (
    <form className="grid gap-3" onSubmit={(event) => void keep(event)}>
      <TextField
        label="Name"
        maxLength={120}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <Choice
        label="Library"
        value={libraryId}
        options={offered.map((one) => [`${one.id}`, one.name] as const)}
        onChange={setLibraryId}
      />
      <p className="text-[12px] text-ink-2">
        Drafts that you may change are kept as revisions, so that the same mix can be made again.
      </p>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="action" type="submit" disabled={state === "busy" || name.trim() === ""}>
          {state === "busy" ? "Rendering…" : "Keep"}
        </Button>
      </div>
    </form>
  );
}
