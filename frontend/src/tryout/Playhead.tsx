import { useEffect, useRef } from "react";
import { loopPosition, useLoop } from "../loop";
import type { TimeScale } from "../ui";
import { LABEL_WIDTH } from "./rulerStore";

/** Where the loop is heard now. */
export function Playhead({ scale }: { scale: TimeScale }) {
  const line = useRef<HTMLDivElement>(null);
  const playing = useLoop((state) => state.playing);
  useEffect(() => {
    let frame = 0;
    const move = () => {
      const at = playing ? loopPosition() : null;
      if (line.current) {
        const x = at === null ? -1 : scale.x(at);
        line.current.style.opacity = x < 0 || x > scale.width ? "0" : "1";
        line.current.style.transform = `translateX(${LABEL_WIDTH + Math.max(0, x)}px)`;
      }
      if (playing) frame = requestAnimationFrame(move);
    };
    move();
    return () => cancelAnimationFrame(frame);
  }, [playing, scale]);
  return (
    <div
      ref={line}
      aria-hidden
      data-playhead
      className="pointer-events-none absolute top-0 left-0 h-full min-h-full w-px bg-bad opacity-0"
    />
  );
}
