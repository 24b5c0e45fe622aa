import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { resultOf, api, ApiError, useLibraries } from "../../api";
import { Button, Choice, DialogFrame, TextField } from "../../ui";
import { useBench, forgetEdits, saveNow } from "../../sound";
import { LoopFields } from "./LoopFields";
import { NO_LOOP, hitWithLoop } from "./loop";

const RATES = [
  ["44100", "44.1 kHz"],
  ["48000", "48 kHz"],
  ["88200", "88.2 kHz"],
  ["96000", "96 kHz"],
  ["192000", "192 kHz"],
] as const;

interface Props {
  open: boolean;
  onClose: () => void;
}

/** Render at final quality into a library, under a name. */
export function KeepTakeDialog({ open, onClose }: Props) {
  return (
    <DialogFrame open={open} onClose={onClose} title="Keep take">
      <KeepTakeForm onClose={onClose} />
    </DialogFrame>
  );
}

function KeepTakeForm({ onClose }: { onClose: () => void }) {
  const libraries = useLibraries();
  const queries = useQueryClient();
  const [name, setName] = useState(() => useBench.getState().document?.name ?? "");
  const [libraryId, setLibraryId] = useState<number | null>(null);
  const [count, setCount] = useState("1");
  const [rate, setRate] = useState<(typeof RATES)[number][0]>("48000");
  const [loop, setLoop] = useState(NO_LOOP);
  const [state, setState] = useState<"ready" | "busy" | "kept">("ready");
  const [problem, setProblem] = useState<string | null>(null);
  const chosen = libraryId ?? useBench.getState().opened?.libraryId ?? libraries.data?.[0]?.id;

  const hitNumber = useBench.getState().document?.hit.number ?? 1;

  const keep = async (event: FormEvent) => {
    event.preventDefault();
    setState("busy");
    setProblem(null);
    try {
      await saveNow();
      const { opened, document, version } = useBench.getState();
      if (!opened || !document || chosen === undefined) return;
      const body = {
        base_version: version,
        document: { ...document },
        hit: { ...hitWithLoop(document.hit, loop) },
        library_id: chosen,
        name,
        count: Math.round(Number(count)),
        sample_rate: Number(rate) as 44100 | 48000 | 88200 | 96000 | 192000,
      };
      const params = { path: { sound_id: opened.id } };
      const kept = await resultOf(api.POST("/api/sounds/{sound_id}/takes", { params, body }));
      const revision = kept.sample.sound_revision ?? opened.revision;
      const unchanged = useBench.getState().document === document;
      useBench.setState({
        version: kept.version,
        opened: { ...opened, revision },
        save: { kind: unchanged ? "saved" : "changed" },
      });
      if (unchanged) forgetEdits(opened.id);
      await queries.invalidateQueries({ queryKey: ["samples"] });
      await queries.invalidateQueries({ queryKey: ["libraries"] });
      setState("kept");
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The take could not be kept");
      setState("ready");
    }
  };

  if (state === "kept") {
    return (
      <div className="grid gap-3">
        <p role="status">
          {count === "1" ? (
            <>
              <b>{name}</b> is in the library.
            </>
          ) : (
            <>
              {count} takes of <b>{name}</b> are in the library.
            </>
          )}
        </p>
        <div className="flex justify-end gap-2">
          <Link
            to={`/libraries/${chosen}`}
            className="inline-flex min-h-8 items-center rounded-control border border-line-strong px-3 font-medium"
          >
            Show in library
          </Link>
          <Button look="action" onClick={onClose} autoFocus>
            Continue
          </Button>
        </div>
      </div>
    );
  }
  return (
    <form onSubmit={(event) => void keep(event)} className="grid gap-3">
      <label className="grid gap-1">
        Name
        <input
          autoFocus
          required
          maxLength={120}
          value={name}
          onChange={(event) => setName(event.target.value)}
          className="h-8 rounded-control border border-line-strong bg-sheet px-2"
        />
      </label>
      <label className="grid gap-1">
        Library
        <select
          value={chosen ?? ""}
          onChange={(event) => setLibraryId(Number(event.target.value))}
          className="h-8 rounded-control border border-line-strong bg-sheet px-2"
        >
          {libraries.data
            ?.filter(({ may }) => may.includes("sample.add"))
            .map((library) => (
              <option key={library.id} value={library.id}>
                {library.name}
              </option>
            ))}
        </select>
      </label>
      <div className="flex gap-3">
        <TextField
          label="Takes"
          type="number"
          min={1}
          max={64}
          figure
          className="w-24"
          value={count}
          onChange={(event) => setCount(event.target.value)}
        />
        <Choice label="Rate" className="flex-1" value={rate} options={RATES} onChange={setRate} />
      </div>
      <LoopFields loop={loop} onLoop={setLoop} />
      <p className="text-[12px] text-ink-2">
        Rendered at final quality, with the note{loop.on ? "" : ", hold"} and velocity shown above
        {Number(count) > 1
          ? `: hits ${hitNumber} to ${hitNumber + Number(count) - 1}, one variation group.`
          : "."}
      </p>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="action" type="submit" disabled={state === "busy" || name.trim() === ""}>
          {state === "busy" ? "Rendering…" : "Keep take"}
        </Button>
      </div>
    </form>
  );
}
