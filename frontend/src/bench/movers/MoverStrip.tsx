import type { Mover } from "../../api";
import { playInRow } from "../playing";
import { edit, idleMovers, select, useBench, withMover } from "../../sound";
import { LearnButton } from "./LearnButton";
import { MoverChips } from "./MoverChips";

type Macro = Extract<Mover, { kind: "macro" }>;

const isMacro = (mover: Mover): mover is Macro => mover.kind === "macro";

/**
 * What moves the sound: macros side by side, to be turned and heard at their least, middle and most,
 * and all other movers.
 */
export function MoverStrip() {
  const sound = useBench((state) => state.document);
  if (!sound) return null;
  const idle = idleMovers(sound).map(({ id }) => id);
  return (
    <div className="flex max-h-[92px] min-w-0 shrink-0 flex-wrap items-center gap-x-3 gap-y-0.5 overflow-y-auto border-b border-line px-3 py-1">
      {sound.movers.filter(isMacro).map((macro) => (
        <MacroSlider key={macro.id} macro={macro} idle={idle.includes(macro.id)} />
      ))}
      <MoverChips sound={sound} />
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

function MacroSlider({ macro, idle }: { macro: Macro; idle: boolean }) {
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
      {idle && (
        <span className="text-[10.5px] text-warn" title="No links">
          idle
        </span>
      )}
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
        onDoubleClick={() => set(0, false)}
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
