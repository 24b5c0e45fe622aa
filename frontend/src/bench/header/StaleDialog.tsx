import { Button, DialogFrame } from "../../ui";
import { useBench, forgetEdits, merged, saveNow, type Conflict } from "../../sound";

const MOST_SHOWN = 6;

/** Someone saved in between, and changed the same fields: one of both is chosen for these; the other
 * stays undoable. What only one of both changed is kept either way. */
export function StaleDialog() {
  const save = useBench((state) => state.save);
  const mine = useBench((state) => state.document);
  const base = useBench((state) => state.base);
  if (save.kind !== "stale" || !mine) return null;
  const theirs = save.savedDocument;
  const conflicts = base ? merged(base, mine, theirs).conflicts : [];
  const choose = (preferred: "mine" | "theirs") => {
    const { past, opened } = useBench.getState();
    const all = preferred === "mine" ? mine : theirs;
    const after = base ? merged(base, mine, theirs, preferred).document : all;
    if (preferred === "theirs" && opened) forgetEdits(opened.id);
    const step =
      preferred === "mine"
        ? { label: "Kept my version", before: theirs, after }
        : { label: "Used the saved version", before: mine, after };
    useBench.setState({
      document: after,
      base: theirs,
      version: save.savedVersion,
      past: [...past, step],
      future: [],
      save: { kind: preferred === "theirs" && after === theirs ? "saved" : "changed" },
    });
    void saveNow();
  };
  return (
    <DialogFrame open onClose={() => undefined} title="Changed elsewhere" wide>
      <p>
        This sound was saved in another window or by another person while you worked
        {conflicts.length > 0 ? ", and the same was changed there:" : "."}
      </p>
      {conflicts.length > 0 && <Conflicts conflicts={conflicts} />}
      <p className="mt-2 text-ink-2">
        Choose the version to continue with; Undo brings the other one back.
        {conflicts.length > 0 && " All other changes, yours and theirs, are kept."}
      </p>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={() => choose("theirs")}>Use the saved version</Button>
        <Button look="action" onClick={() => choose("mine")}>
          Keep mine
        </Button>
      </div>
    </DialogFrame>
  );
}

function Conflicts({ conflicts }: { conflicts: Conflict[] }) {
  return (
    <table className="mt-2 w-full text-[12.5px]">
      <thead>
        <tr className="text-left text-[11.5px] text-ink-2">
          <th className="py-1 font-normal">Field</th>
          <th className="py-1 font-normal">Mine</th>
          <th className="py-1 font-normal">Saved</th>
        </tr>
      </thead>
      <tbody>
        {conflicts.slice(0, MOST_SHOWN).map(({ path, mine, theirs }) => (
          <tr key={path.join(".")} className="border-t border-line">
            <th scope="row" className="py-1 pr-2 text-left font-medium">
              {pathWords(path)}
            </th>
            <td className="figure py-1 pr-2">{shortly(mine)}</td>
            <td className="figure py-1">{shortly(theirs)}</td>
          </tr>
        ))}
        {conflicts.length > MOST_SHOWN && (
          <tr className="border-t border-line">
            <td colSpan={3} className="py-1 text-ink-2">
              and {conflicts.length - MOST_SHOWN} more
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

/** A field in words: ``tempo_bpm`` is Tempo bpm. */
function pathWords(path: string[]): string {
  const words = path.slice(-2).join(", ").replaceAll("_", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function shortly(value: unknown): string {
  if (value === undefined) return "removed";
  if (typeof value === "object" && value !== null)
    return Array.isArray(value) ? `${value.length} values` : "changed";
  return String(value);
}
