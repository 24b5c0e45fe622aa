import { Button, DialogFrame } from "../ui";
import { openTryOut, useTryOut } from "../loop";

/** Somebody else saved in between: which of the two states shall stay. */
export function StaleDialog() {
  const { save, opened, document } = useTryOut();
  if (save.kind !== "stale" || !opened || !document) return null;
  const { savedVersion, savedDocument } = save;
  const takeTheirs = () => openTryOut(opened, savedVersion, savedDocument);
  const keepMine = () => useTryOut.setState({ version: savedVersion, save: { kind: "changed" } });
  return (
    <DialogFrame open onClose={() => undefined} title="This try-out was changed elsewhere">
      <p className="mb-3">
        Someone else saved “{savedDocument.name}” while you edited it. Choose which state stays;
        yours can be brought back by undo as long as this page is open.
      </p>
      <div className="flex justify-end gap-2">
        <Button onClick={takeTheirs}>Use theirs</Button>
        <Button look="action" onClick={keepMine}>
          Keep mine
        </Button>
      </div>
    </DialogFrame>
  );
}
