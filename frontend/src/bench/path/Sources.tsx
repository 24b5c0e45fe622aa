import type { Sound } from "../../api";
import { PIGMENTS } from "../../ui";
import { select, useBench } from "../../sound";
import { dragSource } from "./dragging";
import { shownLevel } from "./ProcessorCard";
import { RouteMenu } from "./RouteMenu";

/** The layers, each with its level and where it goes; dragged to a bus it goes there. */
export function Sources({ sound }: { sound: Sound }) {
  const selection = useBench((state) => state.selection);
  const levels = useBench((state) => state.audition?.levels_db);
  return (
    <div className="w-[206px] shrink-0">
      <h3 className="mb-1 text-[12px] font-semibold text-ink-2">Layers</h3>
      <div className="grid max-h-[132px] gap-1 overflow-y-auto">
        {sound.layers.map((layer) => {
          const { id, name, pigment } = layer;
          const chosen = selection.kind === "layer" && selection.id === id;
          return (
            <div
              key={id}
              {...dragSource("route", id)}
              className={`flex min-h-7 cursor-grab items-center gap-1 rounded-control border bg-sheet pr-1 pl-2 ${chosen ? "border-ink" : "border-line-strong"}`}
            >
              <button
                type="button"
                onClick={() => select({ kind: "layer", id })}
                className="flex min-h-6 min-w-0 flex-1 items-center gap-1.5 text-left"
              >
                <span aria-hidden style={{ color: PIGMENTS[pigment].colour }}>
                  {PIGMENTS[pigment].glyph}
                </span>
                <span className="min-w-0 flex-1 truncate">{name}</span>
                <span className="figure text-[10.5px] text-ink-2">{shownLevel(levels?.[id])}</span>
              </button>
              <RouteMenu sound={sound} part={layer} />
            </div>
          );
        })}
      </div>
    </div>
  );
}
