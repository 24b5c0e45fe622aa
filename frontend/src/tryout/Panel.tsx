import { X } from "lucide-react";
import type { Heard, RoundNow } from "../loop";
import { GamePanel } from "./GamePanel";
import { KitPanel } from "./KitPanel";
import { useTryOutRuler } from "./rulerStore";

const LABELS = { game: "Game test", kit: "Kit" } as const;

/** Below the lanes: a game's way of triggering, or the parts on keys. */
export function Panel({ heard, round }: { heard: Heard; round: RoundNow }) {
  const panel = useTryOutRuler((state) => state.panel);
  const show = (next: "game" | "kit" | null) => useTryOutRuler.setState({ panel: next });
  return (
    <section
      aria-label="Game test and kit"
      className="col-span-full border-t border-line-strong bg-band px-4 py-1.5"
    >
      <div className="flex items-center gap-1">
        {(["game", "kit"] as const).map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={panel === one}
            onClick={() => show(panel === one ? null : one)}
            className={`min-h-7 rounded-control px-3 text-[12.5px] ${panel === one ? "bg-ink text-sheet" : "hover:bg-sheet"}`}
          >
            {LABELS[one]}
          </button>
        ))}
        {panel && (
          <button
            type="button"
            aria-label="Close the panel"
            className="ml-auto grid size-7 place-items-center rounded-control hover:bg-sheet"
            onClick={() => show(null)}
          >
            <X size={14} aria-hidden />
          </button>
        )}
      </div>
      {panel === "game" && <GamePanel heard={heard} round={round} />}
      {panel === "kit" && <KitPanel heard={heard} round={round} />}
    </section>
  );
}
