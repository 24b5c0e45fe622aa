import { useEffect, useRef } from "react";
import type { Mover } from "../../api";
import type { TimeScale } from "../../ui";
import { CurveEditor } from "../curves";
import { LABEL_WIDTH } from "../parts";
import { select, useBench } from "../../sound";
import { GridLines } from "./GridLines";

interface Props {
  mover: Extract<Mover, { kind: "curve" }>;
  scale: TimeScale;
}

/** The curve of a mover on the ruler, where it can be drawn as those of the layers. */
export function MoverLane({ mover, scale }: Props) {
  const selected = useBench(
    ({ selection }) => selection.kind === "mover" && selection.id === mover.id,
  );
  const links = useBench(
    ({ document }) =>
      document?.links.filter((one) => one.mover === mover.id || one.scaled_by === mover.id)
        .length ?? 0,
  );
  const lane = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (selected) lane.current?.scrollIntoView({ block: "nearest" });
  }, [selected]);
  return (
    <div
      ref={lane}
      data-mover={mover.id}
      className={`relative flex border-b border-line ${selected ? "bg-band" : ""}`}
      style={{
        height: MOVER_LANE_HEIGHT,
        boxShadow: selected ? "inset 3px 0 var(--action)" : undefined,
      }}
    >
      <div
        className="flex shrink-0 flex-col border-r border-line py-2 pr-2 pl-3"
        style={{ width: LABEL_WIDTH }}
      >
        <button
          type="button"
          className="flex min-h-6 items-center gap-1.5 text-left font-semibold"
          onClick={() => select({ kind: "mover", id: mover.id })}
        >
          <span aria-hidden className="text-action">
            ◗
          </span>
          <span className="truncate">{mover.name}</span>
        </button>
        <p className="pl-[18px] text-[11.5px] text-ink-2">
          {links === 0 ? "moves nothing yet" : `moves ${links}`}
        </p>
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">
        <GridLines scale={scale} height={MOVER_LANE_HEIGHT} />
        <CurveEditor
          curveRef={{ name: "mover", moverId: mover.id }}
          curve={mover.curve}
          owner={mover.name}
          delayS={0}
          colour="var(--action)"
          scale={scale}
          height={MOVER_LANE_HEIGHT}
          baseHz={null}
        />
      </div>
    </div>
  );
}

const MOVER_LANE_HEIGHT = 88;
