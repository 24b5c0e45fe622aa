import { useMemo } from "react";
import type { Mover } from "../../api";
import { timeScale, useSize } from "../../ui";
import { CurveEditor } from "../curves";

const HEIGHT = 96;

/** One cycle of an LFO, drawn by hand; its whole length is one time round. */
export function CycleEditor({ mover }: { mover: Extract<Mover, { kind: "lfo" }> }) {
  const { ref, width } = useSize<HTMLDivElement>();
  const lengthS = Math.max(0.01, mover.drawn.points.at(-1)?.time_s ?? 1);
  // A little room behind the last point, so that it can be pulled on.
  const scale = useMemo(
    () => timeScale({ startS: 0, endS: lengthS * 1.06 }, width),
    [lengthS, width],
  );
  return (
    <div
      ref={ref}
      className="relative mb-2 overflow-hidden rounded-control border border-line-strong bg-sheet"
      style={{ height: HEIGHT }}
    >
      {width > 0 && (
        <CurveEditor
          curveRef={{ name: "mover", moverId: mover.id }}
          curve={mover.drawn}
          owner={mover.name}
          delayS={0}
          colour="var(--action)"
          scale={scale}
          height={HEIGHT}
          baseHz={null}
        />
      )}
    </div>
  );
}
