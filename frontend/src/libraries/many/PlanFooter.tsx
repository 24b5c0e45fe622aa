import { Button } from "../../ui";

interface Props {
  words: string | null;
  verb: string;
  busy: boolean;
  ready: boolean;
  onDo: () => void;
  onClose: () => void;
}

/** What is wrong, and the two ways out of a dialog. */
export function PlanFooter({ words, verb, busy, ready, onDo, onClose }: Props) {
  return (
    <>
      {words && (
        <p role="alert" className="mt-3 text-bad">
          {words}
        </p>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="action" onClick={onDo} disabled={busy || !ready}>
          {busy ? "Working…" : verb}
        </Button>
      </div>
    </>
  );
}

/** A scrolled list of what a plan would change. */
export function PlanTable({ heads, rows }: { heads: string[]; rows: React.ReactNode[][] }) {
  return (
    <div className="mt-3 max-h-[260px] overflow-y-auto rounded-control border border-line bg-sheet">
      <table className="w-full text-[12.5px]">
        <thead>
          <tr className="sticky top-0 bg-panel text-left text-[11.5px] text-ink-2">
            {heads.map((head) => (
              <th key={head} className="px-2 py-1 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((cells, n) => (
            <tr key={n} className="border-t border-line">
              {cells.map((cell, k) => (
                <td key={k} className={`px-2 py-1 ${k > 0 ? "figure" : ""}`}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
