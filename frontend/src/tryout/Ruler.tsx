import { ChevronDown, Maximize2, ZoomIn, ZoomOut } from "lucide-react";
import type { TryOut } from "../api";
import { ActionMenu, ticks, zoomed, type TimeScale } from "../ui";
import { boundedTo, LABEL_WIDTH, showView, useTryOutRuler } from "./rulerStore";

interface Props {
  scale: TimeScale;
  document: TryOut;
}

/** Marks at bars and beats, or in seconds. */
function marksOf(scale: TimeScale, document: TryOut, unit: "beats" | "time") {
  if (unit === "time") return ticks(scale);
  const beatS = 60 / document.tempo_bpm;
  const pixelsABeat = scale.x(beatS) - scale.x(0);
  const bar = document.beats_a_bar;
  const step = pixelsABeat > 46 ? 1 : pixelsABeat * bar > 46 ? bar : bar * 4;
  const last = Math.min(scale.endS, document.length_s - 1e-6);
  const first = Math.max(0, Math.floor(scale.startS / beatS / step) * step);
  const found = [];
  for (let beat = first; beat * beatS <= last; beat += step) {
    const inBar = beat % bar;
    const label = inBar === 0 ? `${beat / bar + 1}` : `${Math.floor(beat / bar) + 1}.${inBar + 1}`;
    found.push({ timeS: beat * beatS, label });
  }
  return found;
}

/** The ruler's marks, and zoom. */
export function Ruler({ scale, document }: Props) {
  const unit = useTryOutRuler((state) => state.unit);
  const zoom = (factor: number) =>
    showView(boundedTo(zoomed(scale, factor, scale.startS + (scale.endS - scale.startS) * 0.25)));
  return (
    <div className="no-select flex h-7 shrink-0 border-b border-line-strong bg-panel text-ink-2">
      <div
        className="flex items-center border-r border-line pr-0.5 pl-2"
        style={{ width: LABEL_WIDTH }}
      >
        <ActionMenu
          label="Ruler"
          title="What the ruler shows"
          className="mr-auto inline-flex min-h-6 items-center gap-0.5 rounded-sm px-1 text-[12px] hover:bg-band"
          anchor="bottom start"
          actions={[
            {
              label: "Bars and beats",
              on: unit === "beats",
              act: () => useTryOutRuler.setState({ unit: "beats" }),
            },
            {
              label: "Seconds",
              on: unit === "time",
              act: () => useTryOutRuler.setState({ unit: "time" }),
            },
          ]}
        >
          {unit === "beats" ? "Beats" : "Time"} <ChevronDown size={12} aria-hidden />
        </ActionMenu>
        <Zoom label="Zoom in" onPress={() => zoom(0.5)} Icon={ZoomIn} />
        <Zoom label="Zoom out" onPress={() => zoom(2)} Icon={ZoomOut} />
        <Zoom label="Show all (0)" onPress={() => showView(null)} Icon={Maximize2} />
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">
        {marksOf(scale, document, unit).map(({ timeS, label }) => (
          <span
            key={timeS}
            className="figure absolute top-0 bottom-0 border-l border-line-strong pt-1.5 pl-1 text-[11px]"
            style={{ left: scale.x(timeS) }}
          >
            {label}
          </span>
        ))}
        <span
          title="End of the round"
          className="absolute bottom-0 h-3 border-l-2 border-ink-2"
          style={{ left: scale.x(document.length_s) }}
        />
      </div>
    </div>
  );
}

function Zoom({
  label,
  onPress,
  Icon,
}: {
  label: string;
  onPress: () => void;
  Icon: typeof ZoomIn;
}) {
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
