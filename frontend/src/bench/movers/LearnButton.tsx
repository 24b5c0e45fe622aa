import { create } from "zustand";
import { useDeclarations, type Mover, type Sound } from "../../api";
import { edit, useBench, learned, targetsOf } from "../../sound";

/** The macro that learns, and the sound from which it began to. */
const useLearning = create<{ macro: string | null; before: Sound | null }>(() => ({
  macro: null,
  before: null,
}));

const stop = () => useLearning.setState({ macro: null, before: null });

/** Let a macro learn: move fields to where it shall take them at 100 %, then say done. */
export function LearnButton({ macro }: { macro: Mover }) {
  const learning = useLearning((state) => state.macro === macro.id);
  const declarations = useDeclarations().data;
  const sound = useBench((state) => state.document);
  const { before } = useLearning.getState();
  if (!declarations || !sound) return null;
  const small =
    "min-h-6 rounded-sm border px-1.5 text-[11px] hover:bg-band border-line-strong bg-sheet";
  if (!learning)
    return (
      <button
        type="button"
        title="Move any fields to where this macro shall take them at 100 %"
        aria-label={`Teach ${macro.name}`}
        className={small}
        onClick={() => useLearning.setState({ macro: macro.id, before: sound })}
      >
        learn
      </button>
    );
  const result = before ? learned(before, sound, macro.id, targetsOf(sound, declarations)) : null;
  const finish = () => {
    if (result && result.count > 0)
      edit(`${macro.name} learned ${result.count} moves`, () => result.sound);
    stop();
  };
  return (
    <span
      role="status"
      className="inline-flex items-center gap-1.5 rounded-sm bg-band px-1.5 text-[11.5px]"
    >
      {result?.count ? `${result.count} moved` : "move fields to their values at 100 %"}
      <button type="button" className={small} onClick={finish}>
        Done
      </button>
      <button
        type="button"
        className={small}
        onClick={() => {
          if (before && before !== sound) edit(`${macro.name} learned nothing`, () => before);
          stop();
        }}
      >
        Cancel
      </button>
    </span>
  );
}
