import { X } from "lucide-react";
import type { TimeScale } from "../../ui";
import { CurveEditor } from "../curves";
import { COMMON_PITCH, curveOf, isPitched, point, edit, select, useBench } from "../../sound";
import { GridLines } from "./GridLines";
import { LABEL_WIDTH } from "../parts";

/** The pitch curve that layers follow together, with who follows it. */
export function CommonPitchLane({ scale }: { scale: TimeScale }) {
  const curve = useBench((state) => state.document?.pitch);
  const layers = useBench((state) => state.document?.layers);
  const selected = useBench(({ selection }) => selection.kind === "pitch");
  if (!curve || !layers) return null;
  const tones = layers.filter(({ source }) => isPitched(source));
  const following = tones.filter(({ follows_pitch }) => follows_pitch).length;
  const clear = () => {
    edit("Common pitch curve: reset", (sound) => ({ ...sound, pitch: curveOf([point(0, 0)]) }));
    select({ kind: "main" });
  };
  return (
    <div
      data-common-pitch
      className={`relative flex border-b border-line ${selected ? "bg-band" : ""}`}
      style={{ height: HEIGHT, boxShadow: selected ? "inset 3px 0 var(--ink)" : undefined }}
    >
      <div
        className="flex shrink-0 flex-col border-r border-line py-2 pr-2 pl-3"
        style={{ width: LABEL_WIDTH }}
      >
        <button
          type="button"
          className="min-h-6 text-left font-semibold"
          onClick={() => select({ kind: "pitch" })}
        >
          Common pitch
        </button>
        <p className="text-[11.5px] text-ink-2">
          {following} of {tones.length} layers follow
        </p>
        <button
          type="button"
          aria-label="Make the common pitch flat"
          title="Make it flat"
          className="mt-auto grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
          onClick={clear}
        >
          <X size={13} aria-hidden />
        </button>
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">
        <GridLines scale={scale} height={HEIGHT} />
        <CurveEditor
          curveRef={COMMON_PITCH}
          curve={curve}
          owner="the whole sound"
          delayS={0}
          colour="var(--ink)"
          scale={scale}
          height={HEIGHT}
          baseHz={null}
        />
      </div>
    </div>
  );
}

const HEIGHT = 88;
