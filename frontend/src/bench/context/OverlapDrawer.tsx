import { X } from "lucide-react";
import { useContext, partInHand, type Heard } from "../../loop";
import { OverlapPanel } from "../../overlap";
import { edit, useBench } from "../../sound";
import { formatValue } from "../../ui";
import { closeOverlap, useOverlapOpen } from "./contextStore";
import { playInContext } from "./play";
import { withAttack } from "./withAttack";

/** Where the sound and another part cover each other; over the inspector. */
export function OverlapDrawer({ heard }: { heard: Heard | null }) {
  const open = useOverlapOpen((state) => state.open);
  const soundId = useBench((state) => state.opened?.id ?? 0);
  const inPlaceOf = useContext((state) => state.inPlaceOf);
  if (!open || !heard) return null;
  const own = partInHand(heard.document, soundId, inPlaceOf);
  return (
    <section
      aria-label="Overlap in context"
      onKeyDown={(event) => {
        if (event.key === "Escape") closeOverlap();
      }}
      className="absolute inset-0 z-20 flex flex-col gap-2 overflow-y-auto border-l border-line-strong bg-sheet px-3.5 py-3"
    >
      <div className="flex items-center">
        <h2 className="font-title text-[16px] font-semibold">Overlap</h2>
        <button
          type="button"
          autoFocus
          aria-label="Close overlap"
          className="ml-auto grid size-6 place-items-center rounded-sm text-ink-2 hover:bg-band"
          onClick={closeOverlap}
        >
          <X size={14} aria-hidden />
        </button>
      </div>
      <OverlapPanel
        heard={heard}
        inHand={own?.id ?? null}
        onHear={playInContext}
        onAttack={(seconds) =>
          edit(`Attack ${formatValue(seconds, "s")} in every layer`, (sound) =>
            withAttack(sound, seconds),
          )
        }
      />
    </section>
  );
}
