import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { fieldProblem, errorText, resultOf, api, useWork } from "../../api";
import { Button, Choice, ProgressLine, TextField } from "../../ui";
import { useSelection } from "../common";
import { DemoChoice } from "./DemoChoice";

const TEMPLATE = "{category}/{name}";

interface Props {
  libraryId: number;
  suggested: string;
  /** Whether there is nothing new to release. */
  empty: boolean;
}

/** A number, a note, and a release of what is approved or marked. */
export function ReleaseForm({ libraryId, suggested, empty }: Props) {
  const queries = useQueryClient();
  const [number, setNumber] = useState(suggested);
  const [note, setNote] = useState("");
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<unknown>(null);
  const marked = useSelection((state) => state.marked);
  const [which, setWhich] = useState<"approved" | "marked">("approved");
  const chosen = which === "marked" && marked.length > 0 ? marked : null;
  const [demos, setDemos] = useState<number[]>([]);
  const { progress, run, stop } = useWork();
  const make = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const params = { path: { library_id: libraryId } };
      const body = { number, note, template: TEMPLATE, sample_ids: chosen, demos };
      await run((headers) =>
        resultOf(api.POST("/api/libraries/{library_id}/releases", { params, body, headers })),
      );
      setProblem(null);
      await queries.invalidateQueries({ queryKey: ["releases"] });
    } catch (error) {
      setProblem(error);
    }
    setBusy(false);
  };
  return (
    <form onSubmit={(event) => void make(event)} className="mt-3 border-t border-line pt-3">
      <div className="flex items-start gap-2">
        <TextField
          label="Number"
          figure
          className="w-28"
          value={number}
          problem={fieldProblem(problem, "number")}
          onChange={(event) => setNumber(event.target.value)}
        />
        {marked.length > 0 && (
          <Choice
            label="Of"
            value={which}
            options={[
              ["approved", "all approved samples"],
              ["marked", `the ${marked.length} selected`],
            ]}
            onChange={setWhich}
          />
        )}
        <TextField
          label="Note"
          className="flex-1"
          placeholder="what changed in this release"
          problem={problem !== null && !fieldProblem(problem, "number") ? errorText(problem) : null}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
        <Button
          look="action"
          type="submit"
          className="mt-[22px]"
          disabled={busy || (empty && !chosen) || number === ""}
        >
          {busy ? "Making…" : "Release"}
        </Button>
      </div>
      <DemoChoice libraryId={libraryId} chosen={demos} onChange={setDemos} />
      {chosen && (
        <p className="mt-1 text-[12px] text-ink-2">
          It will contain only the selected samples; everything else from the last release is left
          out.
        </p>
      )}
      {progress && <ProgressLine verb="Making files" work={progress} onStop={stop} />}
    </form>
  );
}
