import { X } from "lucide-react";
import { sideText, type Side } from "../api";
import { lettersOf } from "./letters";
import { SidePicker } from "./SidePicker";
import { useSideNames } from "./useCompared";

interface Props {
  sides: Side[];
  onSides: (sides: Side[]) => void;
}

/** Before there are two sides: what to compare. */
export function Chooser({ sides, onSides }: Props) {
  const { letter } = lettersOf(sides.length);
  const names = useSideNames(sides);
  return (
    <div className="mx-auto grid w-full max-w-[640px] content-start gap-3 overflow-y-auto p-6">
      <h2 className="font-title text-[19px] font-semibold">What is compared?</h2>
      <p className="text-ink-2">
        Two to four samples or sounds, laid over each other and made as loud as each other. Marked
        samples of a library, revisions of a sound and its reference are compared from where they
        are, too.
      </p>
      {sides.map((side, n) => (
        <p key={sideText(side)} className="flex items-center gap-2">
          <b style={{ color: lettersOf(n).colour }}>{lettersOf(n).letter}</b>
          {names.data?.[n]?.name ?? "…"}{" "}
          <span className="text-ink-2">{names.data?.[n]?.detail}</span>
          <button
            type="button"
            aria-label={`Remove side ${lettersOf(n).letter}`}
            className="grid size-6 place-items-center rounded-sm hover:bg-band"
            onClick={() => onSides(sides.filter((one) => one !== side))}
          >
            <X size={13} aria-hidden />
          </button>
        </p>
      ))}
      <SidePicker label={`Side ${letter}`} onPick={(side) => onSides([...sides, side])} />
    </div>
  );
}
