import { Button } from "../../ui";
import type { Conflict } from "./useSampleEdit";
import { valueText } from "./valueText";

interface Props {
  conflict: Conflict;
  onMine: () => void;
  onTheirs: () => void;
}

/** Two people changed the same fields: both values, and a choice. */
export function ConflictView({ conflict, onMine, onTheirs }: Props) {
  return (
    <section
      role="alert"
      aria-label="Changed by someone else"
      className="mb-3 rounded-control border border-warn bg-sheet p-2.5 text-[12.5px]"
    >
      <p className="mb-1.5 font-semibold">Someone else changed this in the meantime</p>
      <dl className="grid grid-cols-[auto_1fr] gap-x-2 gap-y-0.5">
        {Object.keys(conflict.saved).map((field) => (
          <div key={field} className="contents">
            <dt className="text-ink-2">{field.replace(/_/g, " ")}</dt>
            <dd className="break-words">
              theirs <b>{valueText(conflict.saved[field])}</b>, yours{" "}
              <b>{valueText(conflict.yours[field])}</b>
            </dd>
          </div>
        ))}
      </dl>
      <div className="mt-2 flex gap-2">
        <Button onClick={onTheirs}>Keep theirs</Button>
        <Button look="action" onClick={onMine}>
          Keep mine
        </Button>
      </div>
    </section>
  );
}
