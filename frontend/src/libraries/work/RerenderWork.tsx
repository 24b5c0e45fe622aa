import { useState } from "react";
import { errorText, useRefreshSamples, useJobActions, useRenders } from "../../api";
import { Button, ProgressLine, Waiting } from "../../ui";
import { offerUndo, toggled } from "../common";
import { differing, rowsWords } from "./jobWords";
import { RenderedTable } from "./RenderedTable";

/** New renders of samples as they come, and what to do with them. */
export function RerenderWork({ jobId, onClose }: { jobId: number; onClose: () => void }) {
  const renders = useRenders(jobId);
  const actions = useJobActions();
  const refresh = useRefreshSamples();
  const [left, setLeft] = useState<number[]>([]);
  const [stayed, setStayed] = useState<ReadonlyMap<number, string>>(new Map());
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);

  const attempt = async (what: () => Promise<unknown>) => {
    setBusy(true);
    setProblem(null);
    try {
      await what();
    } catch (error) {
      setProblem(errorText(error));
    }
    setBusy(false);
  };
  if (renders.error)
    return (
      <div className="flex items-center justify-between gap-3">
        <p role="alert">{errorText(renders.error)}</p>
        <Button onClick={onClose}>Close</Button>
      </div>
    );
  if (!renders.data) return <Waiting words="Loading the results" />;
  const { job, rows } = renders.data;
  const running = job.state === "running";
  const offered = differing(rows).map(({ sample_id }) => sample_id);
  const chosen = offered.filter((id) => !left.includes(id) && !stayed.has(id));
  const replace = () =>
    attempt(async () => {
      // What differs in nothing is done with, too.
      const alike = rows.filter(({ rendered }) => rendered?.same).map((row) => row.sample_id);
      const made = await actions.replace(jobId, [...chosen, ...alike]);
      if (made.gesture) offerUndo(made.gesture, `${made.count} rendered again`);
      await refresh();
      // Failures are shown here, while the dialog is open.
      if (made.stayed.length === 0) return onClose();
      setStayed(new Map(made.stayed.map(({ sample_id, words }) => [sample_id, words])));
      await actions.readAnew(jobId);
    });
  const discard = () =>
    attempt(async () => {
      await actions.discard(jobId);
      onClose();
    });
  const work = { done: job.done + job.failed, of: job.of, seconds: job.seconds };
  return (
    <>
      <div className="min-h-8">
        {running ? (
          <ProgressLine
            verb="Rendering"
            work={work}
            onStop={() => void attempt(() => actions.stop(jobId))}
          />
        ) : (
          <p className="text-[12.5px] text-ink-2">
            {rowsWords(rows)}. Press Now and New to compare; arrow keys move on.
          </p>
        )}
      </div>
      <RenderedTable
        jobId={jobId}
        rows={rows}
        left={new Set(left)}
        onToggle={(id) => setLeft((now) => toggled(now, id))}
        stayed={stayed}
        waits={running}
      />
      {problem && (
        <p role="alert" className="mt-3 text-bad">
          {problem}
        </p>
      )}
      <div className="mt-4 flex items-center gap-2">
        <p className="mr-auto text-[12px] text-ink-2">
          {running
            ? "It continues when this is closed; see Jobs, above the list."
            : "Approved samples become drafts again, because the new version is not approved yet."}
        </p>
        {!running && (
          <Button look="quiet" disabled={busy} onClick={() => void discard()}>
            Discard
          </Button>
        )}
        <Button onClick={onClose}>Close</Button>
        <Button
          look="action"
          disabled={running || busy || chosen.length === 0}
          onClick={() => void replace()}
        >
          {busy ? "Working…" : `Replace ${chosen.length}`}
        </Button>
      </div>
    </>
  );
}
