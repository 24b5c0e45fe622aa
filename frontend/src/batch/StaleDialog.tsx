import { Button, DialogFrame } from "../ui";
import { openBatch, useBatch } from "./store";

/** Somebody else saved in between: which of the two plans shall stay. */
export function StaleDialog() {
  const { save, opened, plan } = useBatch();
  if (save.kind !== "stale" || !opened || !plan) return null;
  const { savedVersion, savedDocument } = save;
  return (
    <DialogFrame open onClose={() => undefined} title="This plan was changed elsewhere">
      <p className="mb-3">
        Someone else saved “{savedDocument.name}” while you edited it. Choose which plan stays.
        Members and rounds stay in any case.
      </p>
      <div className="flex justify-end gap-2">
        <Button onClick={() => openBatch(opened, savedVersion, savedDocument)}>Use theirs</Button>
        <Button
          look="action"
          onClick={() => useBatch.setState({ version: savedVersion, save: { kind: "changed" } })}
        >
          Keep mine
        </Button>
      </div>
    </DialogFrame>
  );
}
