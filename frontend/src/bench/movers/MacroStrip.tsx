import type { Mover } from "../../api";
import { playInRow } from "../playing";
import { edit, select, useBench, withMover } from "../../sound";
import { LearnButton } from "./LearnButton";

type Macro = Extract<Mover, { kind: "macro" }>;

const isMacro = (mover: Mover): mover is Macro => mover.kind === "macro";

/** Macros side by side: turn each, and hear its least, its middle and its most. */
export function MacroStrip() {
  const movers = useBench((state) => state.document?.movers);
  const macros = movers?.filter(isMacro) ?? [];
  if (macros.length === 0) return null;
  return (
    <div className="flex min-w-0 items-center gap-3 overflow-x-auto border-b border-line px-3 py-1">
      {macros.map((macro) => (
        <MacroSlider key={macro.id} macro={macro} />
      ))}
    </div>
  );
}

/** The sound with the macro at 0, 50 and 100 %, one after the other. */
async function hearRange(id: string): Promise<void> {
  const { document } = useBench.getState();
  if (!document) return;
  const at = (value: number) => withMover(document, id, (now) => ({ ...now, value }) as Mover);
  await playInRow([0, 0.5, 1].map(at));
}

function MacroSlider({ macro }: { macro: Macro }) {
  const percent = Math.round(macro.value * 100);
  const set = (value: number, moving: boolean) =>
    edit(
      `${macro.name}: ${Math.round(value * 100)} %`,
      (sound) => withMover(sound, macro.id, (now) => ({ ...now, value }) as Mover),
      { gesture: `macro-${macro.id}`, moving },
    );
  return (
    <span className="inline-flex shrink-0 items-center gap-1.5 text-[12px]">
      <button
        type="button"
        className="min-h-6 max-w-[110px] truncate rounded-sm px-1 font-medium hover:bg-band"
        onClick={() => select({ kind: "mover", id: macro.id })}
      >
        {macro.name}
      </button>
      <input
        type="range"
        aria-label={`Macro ${macro.name}`}
        aria-valuetext={`${percent} %`}
        min={0}
        max={100}
        value={percent}
        className="w-24 accent-action"
        onChange={(event) => set(Number(event.target.value) / 100, true)}
        onPointerUp={() => set(macro.value, false)}
        onKeyUp={() => set(macro.value, false)}
        onDoubleClick={() => set(0.5, false)}
      />
      <span className="figure w-9 text-right">{percent} %</span>
      <button
        type="button"
        aria-label={`Hear ${macro.name} at 0, 50 and 100 %`}
        title="Hear it at 0, 50 and 100 %"
        className="figure min-h-6 rounded-sm border border-line-strong px-1 text-[10.5px] hover:bg-band"
        onClick={() => void hearRange(macro.id)}
      >
        0/50/100
      </button>
      <LearnButton macro={macro} />
    </span>
  );
}
