import { useEffect, useMemo, useRef } from "react";
import type { Heard, MixNow, RoundNow } from "../loop";
import { timeScale, useSize, zoomed } from "../ui";
import { AddPart } from "./AddPart";
import { MixRow } from "./MixRow";
import { PartLane } from "./PartLane";
import { Playhead } from "./Playhead";
import { Ruler } from "./Ruler";
import { boundedTo, LABEL_WIDTH, showView, useTryOutRuler } from "./rulerStore";

interface Props {
  heard: Heard;
  round: RoundNow;
  mix: MixNow;
}

/** Ruler, mix and the row that adds parts. */
const OTHERS_HEIGHT = 162;
const LEAST_LANE = 62;
const MOST_LANE = 140;

/** One ruler over the mix and a lane for each part. */
export function Lanes({ heard, round, mix }: Props) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const scroll = useRef<HTMLDivElement>(null);
  const view = useTryOutRuler((state) => state.view);
  const { document } = heard;
  const room = (height - OTHERS_HEIGHT) / Math.max(1, document.parts.length);
  const laneHeight = Math.floor(Math.max(LEAST_LANE, Math.min(MOST_LANE, room)));
  const shown = view ?? { startS: 0, endS: document.length_s * 1.015 };
  const { startS, endS } = shown;
  const scale = useMemo(
    () => timeScale({ startS, endS }, Math.max(0, width - LABEL_WIDTH)),
    [startS, endS, width],
  );
  useEffect(() => {
    const element = scroll.current;
    if (!element) return;
    const turn = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.shiftKey && Math.abs(event.deltaX) < Math.abs(event.deltaY))
        return;
      event.preventDefault();
      const left = element.getBoundingClientRect().left + LABEL_WIDTH;
      const around = scale.time(Math.max(0, event.clientX - left));
      if (event.ctrlKey)
        showView(boundedTo(zoomed({ startS, endS }, event.deltaY > 0 ? 1.25 : 0.8, around)));
      else {
        const by = ((event.deltaX || event.deltaY) / Math.max(1, scale.width)) * (endS - startS);
        showView(boundedTo({ startS: startS + by, endS: endS + by }));
      }
    };
    element.addEventListener("wheel", turn, { passive: false });
    return () => element.removeEventListener("wheel", turn);
  }, [scale, startS, endS]);
  return (
    <div ref={ref} className="flex min-h-0 min-w-0 flex-col bg-panel">
      <Ruler scale={scale} document={document} />
      <div ref={scroll} className="relative min-h-0 flex-1 overflow-y-auto overflow-x-hidden">
        <MixRow scale={scale} mix={mix} />
        {document.parts.map((part, index) => (
          <PartLane
            key={part.id}
            part={part}
            index={index}
            heard={heard}
            round={round}
            scale={scale}
            height={laneHeight}
            missing={mix.figures?.missing[part.id] ?? ""}
          />
        ))}
        <AddPart />
        <Playhead scale={scale} />
      </div>
    </div>
  );
}
