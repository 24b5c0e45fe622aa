import { Button, DialogFrame } from "../../ui";
import { useBench, forgetEdits, saveNow } from "../../sound";

/** Someone saved in between: both versions are here, and one is chosen; the other stays undoable. */
export function StaleDialog() {
  const save = useBench((state) => state.save);
  const mine = useBench((state) => state.document);
  if (save.kind !== "stale" || !mine) return null;
  const takeSaved = () => {
    const { past, opened } = useBench.getState();
    if (opened) forgetEdits(opened.id);
    const step = { label: "Used the saved version", before: mine, after: save.savedDocument };
    useBench.setState({
      document: save.savedDocument,
      version: save.savedVersion,
      past: [...past, step],
      future: [],
      save: { kind: "saved" },
    });
  };
  const keepMine = () => {
    const { past } = useBench.getState();
    const step = {
      label: "Kept my version",
      before: save.savedDocument,
      after: mine,
    };
    useBench.setState({
      version: save.savedVersion,
      past: [...past, step],
      save: { kind: "changed" },
    });
    void saveNow();
  };
  return (
    <DialogFrame open onClose={() => undefined} title="Changed elsewhere">
      <p>
        This sound was saved in another window or by another person while you worked. Choose the
        version to continue with; Undo brings the other one back.
      </p>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={takeSaved}>Use the saved version</Button>
        <Button look="action" onClick={keepMine}>
          Keep mine
        </Button>
      </div>
    </DialogFrame>
  );
}
