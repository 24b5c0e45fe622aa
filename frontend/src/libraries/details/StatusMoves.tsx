import { useState } from "react";
import {
  api,
  errorText,
  mayDo,
  resultOf,
  useRefreshSamples,
  useVocabulary,
  type LibraryItem,
  type SampleItem,
} from "../../api";
import { Button } from "../../ui";
import { offerUndo, statusText, statusVerb } from "../common";

/** What the status of one sample can become next, for those who may: "Approve", "Send back". */
export function StatusMoves({
  sample,
  library,
}: {
  sample: SampleItem;
  library: LibraryItem | undefined;
}) {
  const refresh = useRefreshSamples();
  const moves = useVocabulary().data?.moves ?? [];
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const next = new Set(
    moves
      .filter(({ from_status, action }) => from_status === sample.status && mayDo(library, action))
      .map(({ to_status }) => to_status),
  );
  if (sample.deleted || next.size === 0) return null;
  const move = async (status: string) => {
    setBusy(true);
    setProblem(null);
    try {
      const body = { ids: [sample.id], status: status as "draft" };
      const made = await resultOf(api.POST("/api/samples/move", { body }));
      offerUndo(made.gesture, `${sample.name} moved to ${statusText(status)}`);
    } catch (error) {
      setProblem(errorText(error));
    }
    await refresh();
    setBusy(false);
  };
  return (
    <div className="flex flex-wrap gap-1.5">
      {[...next].map((status) => (
        <Button
          key={status}
          look={status === "approved" ? "action" : "plain"}
          disabled={busy}
          onClick={() => void move(status)}
        >
          {statusVerb(sample.status, status)}
        </Button>
      ))}
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
    </div>
  );
}
