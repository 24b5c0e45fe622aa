import { Maximize2, ZoomIn, ZoomOut } from "lucide-react";
import { ticks, type TimeScale, zoomed } from "../ui/timeScale";
import { LABEL_WIDTH } from "./Lanes";
import { setView, useBench } from "./store";
import { shownView } from "./useTimeline";

export function zoomBy(factor: number): void {
  const view = shownView();
  setView(zoomed(view, factor, view.startS + (view.endS - view.startS) * 0.25));
}

/** The ruler's marks, and zoom. */
export function Ruler({ scale }: { scale: TimeScale }) {
  const holdS = useBench((state) => state.document?.hit.hold_s ?? 0);
  const marks = ticks(scale);
  return (
    <div
      data-ruler
      className="no-select flex h-7 shrink-0 border-b border-line-strong bg-panel text-ink-2"
    >
      <div
        className="flex items-center gap-0.5 border-r border-line pr-1 pl-3"
        style={{ width: LABEL_WIDTH }}
      >
        <span className="mr-auto text-[12px] whitespace-nowrap">
          Time · {scale.endS >= 2 ? "s" : "ms"}
        </span>
        <ZoomButton label="Zoom in" onPress={() => zoomBy(0.5)} Icon={ZoomIn} />
        <ZoomButton label="Zoom out" onPress={() => zoomBy(2)} Icon={ZoomOut} />
        <ZoomButton label="Show all" onPress={() => setView(null)} Icon={Maximize2} />
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">
        {marks.map(({ timeS, label }) => (
          <span
            key={timeS}
            className="figure absolute top-0 bottom-0 border-l border-line-strong pt-1.5 pl-1 text-[11px]"
            style={{ left: scale.x(timeS) }}
          >
            {label}
          </span>
        ))}
        <span
          title="End of the hold"
          className="absolute bottom-0 h-2 w-0 border-l-2 border-action"
          style={{ left: scale.x(holdS) }}
        />
      </div>
    </div>
  );
}

interface ZoomButtonProps {
  label: string;
  onPress: () => void;
  Icon: typeof ZoomIn;
}

function ZoomButton({ label, onPress, Icon }: ZoomButtonProps) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onPress}
      className="grid size-6 place-items-center rounded-sm hover:bg-band"
    >
      <Icon size={12} aria-hidden />
    </button>
  );
}
