import { useEffect, useRef } from "react";
import type { TimeScale } from "../ui";
import { deck, useDeck, type Stretch } from "./deck";
import { countAgain, useCompare } from "./store";

const HATCHED = "repeating-linear-gradient(135deg, var(--line-strong) 0 4px, transparent 4px 9px)";

/** Over all rows: what is chosen, what is left out, where one points, where it plays. */
export function Marks({ scale, left }: { scale: TimeScale; left: number }) {
  const { chosen, leftOut, pointedAtS } = useCompare();
  const box = ({ fromS, toS }: Stretch) => ({
    left: scale.x(fromS),
    width: Math.max(1, scale.x(toS) - scale.x(fromS)),
  });
  return (
    <div className="pointer-events-none absolute top-8 right-0 bottom-0" style={{ left }}>
      {leftOut.map((one) => (
        <div
          key={one.fromS}
          className="absolute inset-y-0 opacity-80"
          style={{ ...box(one), backgroundImage: HATCHED }}
        >
          <button
            type="button"
            className="pointer-events-auto absolute top-0.5 left-0.5 rounded-sm bg-sheet px-1 text-[11px] underline"
            onClick={() => countAgain(one)}
          >
            count again
          </button>
        </div>
      ))}
      {chosen && (
        <div
          className="absolute inset-y-0 border-x"
          style={{
            ...box(chosen),
            borderColor: "var(--ochre)",
            backgroundColor: "color-mix(in srgb, var(--ochre) 14%, transparent)",
          }}
        />
      )}
      {pointedAtS !== null && (
        <div
          className="absolute inset-y-0 border-l border-ink-3"
          style={{ left: scale.x(pointedAtS) }}
        />
      )}
      <Playhead scale={scale} />
    </div>
  );
}

function Playhead({ scale }: { scale: TimeScale }) {
  const line = useRef<HTMLDivElement>(null);
  const playing = useDeck((state) => state.playing);
  useEffect(() => {
    if (!playing) return;
    let frame = 0;
    const move = () => {
      const at = deck.position();
      if (line.current && at !== null)
        line.current.style.transform = `translateX(${scale.x(at).toFixed(1)}px)`;
      frame = requestAnimationFrame(move);
    };
    move();
    return () => cancelAnimationFrame(frame);
  }, [playing, scale]);
  if (!playing) return null;
  return <div ref={line} className="absolute inset-y-0 border-l-2 border-ink" />;
}
