import { Plus } from "lucide-react";
import { useEffect, useRef } from "react";
import type { CurvePoint } from "../../api";
import { boundedView, zoomed, useSize } from "../../ui";
import { CommonPitchLane } from "./CommonPitchLane";
import { addLayer, LAYER_KINDS, MOST_LAYERS, select, setView, useBench } from "../../sound";
import { GridMenu } from "./GridMenu";
import { LABEL_WIDTH } from "../parts";
import { Lane } from "./Lane";
import { MoverLane } from "./MoverLane";
import { ReferenceRow } from "../reference";
import { ResultRow } from "./ResultRow";
import type { Others } from "./OthersBehind";
import { Ruler } from "./Ruler";
import { shownView, useTimeline } from "./useTimeline";

/** Everything that happens in time, on the one ruler. */
export function Lanes({ others }: { others: Others | null }) {
  const { ref, width, height } = useSize<HTMLElement>();
  const scale = useTimeline(Math.max(0, width - LABEL_WIDTH));
  const layers = useBench((state) => state.document?.layers ?? NONE);
  const movers = useBench((state) => state.document?.movers ?? NONE);
  const commonShown = useBench(
    ({ document, selection }) =>
      selection.kind === "pitch" || isMoving(document?.pitch.points, document?.pitch.release),
  );
  const laneHeight = laneHeightFor(height, layers.length + (commonShown ? 1 : 0));
  useWheelZoom(ref);
  return (
    <section
      ref={ref}
      aria-label="Layers in time"
      className="flex min-h-0 min-w-0 flex-1 flex-col bg-sheet"
    >
      <Ruler scale={scale} />
      <div className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto">
        <ResultRow scale={scale} others={others} />
        <ReferenceRow scale={scale} />
        {layers.map((layer, index) => (
          <Lane key={layer.id} layer={layer} number={index + 1} scale={scale} height={laneHeight} />
        ))}
        {commonShown && <CommonPitchLane scale={scale} />}
        {movers.map(
          (mover) =>
            mover.kind === "curve" && <MoverLane key={mover.id} mover={mover} scale={scale} />,
        )}
        <AddLayer
          full={layers.length >= MOST_LAYERS}
          empty={layers.length === 0}
          commonShown={commonShown}
        />
      </div>
    </section>
  );
}

const isMoving = (points: CurvePoint[] = [], release: CurvePoint[] = []) =>
  [...points, ...release].some(({ value }) => value !== 0);

const NONE: never[] = [];
const FIXED_HEIGHT = 28 + 134 + 44;

/** Lanes share the room there is, within what can be read and what is useful. */
function laneHeightFor(room: number, count: number): number {
  return Math.round(Math.min(220, Math.max(88, (room - FIXED_HEIGHT) / Math.max(1, count))));
}

/** Wheel with Ctrl zooms around the pointer, with Shift it scrolls along the ruler. */
function useWheelZoom(ref: React.RefObject<HTMLElement | null>) {
  const started = useRef(false);
  useEffect(() => {
    const element = ref.current;
    if (!element || started.current) return;
    started.current = true;
    const turn = (event: WheelEvent) => {
      const overRuler = event.target instanceof Element && event.target.closest("[data-ruler]");
      if (!event.ctrlKey && !event.shiftKey && !overRuler) return;
      event.preventDefault();
      const view = shownView();
      const span = view.endS - view.startS;
      const box = element.getBoundingClientRect();
      const part = (event.clientX - box.left - LABEL_WIDTH) / Math.max(1, box.width - LABEL_WIDTH);
      const amount = event.deltaY || event.deltaX;
      if (event.shiftKey) {
        const shift = span * amount * 0.001;
        setView(boundedView({ startS: view.startS + shift, endS: view.endS + shift }));
      } else {
        setView(
          zoomed(view, 1.0015 ** amount, view.startS + span * Math.min(1, Math.max(0, part))),
        );
      }
    };
    element.addEventListener("wheel", turn, { passive: false });
    return () => {
      started.current = false;
      element.removeEventListener("wheel", turn);
    };
  }, [ref]);
}

interface AddLayerProps {
  full: boolean;
  empty: boolean;
  commonShown: boolean;
}

function AddLayer({ full, empty, commonShown }: AddLayerProps) {
  return (
    <div className="flex flex-wrap items-center gap-1 px-3 py-2 text-ink-2">
      <span className="mr-1 inline-flex items-center gap-1 font-medium text-action">
        <Plus size={14} aria-hidden /> Add layer
      </span>
      {LAYER_KINDS.map(([kind, label]) => (
        <button
          key={kind}
          type="button"
          disabled={full}
          onClick={() => addLayer(kind)}
          className="min-h-6 rounded-control px-2 hover:bg-band disabled:opacity-45"
        >
          {label}
        </button>
      ))}
      {!commonShown && !empty && (
        <button
          type="button"
          title="A pitch curve for all layers"
          onClick={() => select({ kind: "pitch" })}
          className="min-h-6 rounded-control px-2 hover:bg-band"
        >
          common pitch
        </button>
      )}
      {full && <span className="ml-2 text-[12px]">A sound has at most {MOST_LAYERS} layers.</span>}
      {empty && (
        <span className="ml-2 text-[12px]">Start with one of these, or drop a file here.</span>
      )}
      <GridMenu />
    </div>
  );
}
