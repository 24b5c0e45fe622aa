import { Plus } from "lucide-react";
import { useState } from "react";
import type { Plays } from "../api";
import { choose, editTryOut, useTryOut } from "../loop";
import { MOST_PARTS, withNewPart } from "./edits";
import { PickerDialog, type PickKind } from "./PickerDialog";
import { useTryOutRuler } from "./rulerStore";

const KINDS: [PickKind, string][] = [
  ["sound", "Sound"],
  ["sample", "Sample"],
  ["group", "Variation group"],
  ["bed", "Bed"],
];

/** What a try-out gets more of. */
export function AddPart() {
  const [kind, setKind] = useState<PickKind | null>(null);
  const parts = useTryOut((state) => state.document?.parts.length ?? 0);
  const add = (name: string, plays: Plays) => {
    const { document } = useTryOut.getState();
    if (!document || document.parts.length >= MOST_PARTS) return;
    const { id } = withNewPart(document, name, plays);
    editTryOut(`Part added: ${name}`, (now) => withNewPart(now, name, plays).document);
    choose({ kind: "part", part: id });
    useTryOutRuler.setState({ leaf: "Part" });
    setKind(null);
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5 px-3 py-2 text-[12.5px] text-ink-2">
      <span className="flex items-center gap-1 font-semibold text-action">
        <Plus size={14} aria-hidden /> Add part
      </span>
      {KINDS.map(([one, label]) => (
        <button
          key={one}
          type="button"
          disabled={parts >= MOST_PARTS}
          title={parts >= MOST_PARTS ? `A try-out has at most ${MOST_PARTS} parts` : undefined}
          className="min-h-7 rounded-control border border-line-strong bg-sheet px-2 hover:bg-band disabled:opacity-45"
          onClick={() => setKind(one)}
        >
          {label}
        </button>
      ))}
      <span className="ml-2 max-[1200px]:hidden">
        {parts === 0
          ? "Begin with a sound; double click in its lane adds hits"
          : "Double click adds a hit, drag moves it, up and down is velocity, Alt copies"}
      </span>
      <PickerDialog kind={kind} onClose={() => setKind(null)} onPick={add} />
    </div>
  );
}
