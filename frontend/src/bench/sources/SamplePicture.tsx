import { useEffect, useRef } from "react";
import type { OutlineData, SampleSource, SourceLook } from "../../api";
import { signedBytesOf, cssColour, prepared, useTheme } from "../../ui";
import type { SourceProps } from "./sourceProps";

interface Props extends Pick<SourceProps<SampleSource>, "owner" | "source" | "onChange"> {
  look: SourceLook;
  outline: OutlineData;
}

const WIDTH = 282;
const HEIGHT = 72;

type Mark = "start_s" | "end_s" | "loop_start_s" | "loop_end_s";
const WORDS: Record<Mark, string> = {
  start_s: "start",
  end_s: "end",
  loop_start_s: "loop from",
  loop_end_s: "loop to",
};

/** The whole recording; what is played of it in ink, with marks to drag. */
export function SamplePicture({ look, outline, source, owner, onChange }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const drag = useRef<{ mark: Mark; gesture: string } | null>(null);
  const theme = useTheme((state) => state.theme);
  const { length_s: lengthS, start_s: startS, end_s: endS } = look;
  const x = (timeS: number) => (timeS / Math.max(lengthS, 1e-6)) * WIDTH;
  useEffect(() => {
    if (!canvas.current) return;
    const context = prepared(canvas.current, WIDTH, HEIGHT);
    const extremes = signedBytesOf(outline.data);
    const columns = extremes.length / 2;
    const [ink, faint] = [cssColour("--ink"), cssColour("--ink-3")];
    for (let n = 0; n < columns; n++) {
      const at = (n + 0.5) / columns;
      const inside = at * lengthS >= startS && at * lengthS <= endS;
      context.fillStyle = inside ? ink : faint;
      context.globalAlpha = inside ? 0.85 : 0.5;
      const low = ((extremes[2 * n] ?? 0) / 127) * (HEIGHT / 2 - 4);
      const high = ((extremes[2 * n + 1] ?? 0) / 127) * (HEIGHT / 2 - 4);
      context.fillRect(
        at * WIDTH,
        HEIGHT / 2 - high,
        Math.max(0.6, WIDTH / columns),
        Math.max(0.7, high - low),
      );
    }
  }, [outline, lengthS, startS, endS, theme]);

  // Loop marks count from where the part begins, forwards.
  const loopS: [number, number] | null =
    source.loop === "off" || source.reverse
      ? null
      : [
          startS + source.loop_start_s,
          source.loop_end_s > 0 ? Math.min(endS, startS + source.loop_end_s) : endS,
        ];
  const marks: [Mark, number][] = [
    ["start_s", startS],
    ["end_s", endS],
    ...(loopS
      ? ([
          ["loop_start_s", loopS[0]],
          ["loop_end_s", loopS[1]],
        ] as [Mark, number][])
      : []),
  ];
  const move = (event: React.PointerEvent<SVGSVGElement>, moving: boolean) => {
    const grip = drag.current;
    if (!grip) return;
    const box = event.currentTarget.getBoundingClientRect();
    const part = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    const inLoop = grip.mark.startsWith("loop");
    const timeS = Math.max(0, part * lengthS - (inLoop ? startS : 0));
    onChange(
      `${owner}: ${WORDS[grip.mark]} ${(timeS * 1000).toFixed(0)} ms`,
      { [grip.mark]: Math.round(timeS * 1e5) / 1e5 },
      { gesture: grip.gesture, moving },
    );
  };
  return (
    <div className="relative mb-1" style={{ height: HEIGHT }}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Outline of the recording, ${lengthS.toFixed(2)} s`}
        className="absolute inset-0 rounded-control border border-line bg-sheet"
        style={{ width: WIDTH, height: HEIGHT }}
      />
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="absolute inset-0 touch-none"
        width={WIDTH}
        height={HEIGHT}
        aria-hidden
        onPointerDown={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          const at = event.clientX - box.left;
          const nearest = marks.reduce((best, one) =>
            Math.abs(x(one[1]) - at) < Math.abs(x(best[1]) - at) ? one : best,
          );
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { mark: nearest[0], gesture: `sample@${event.timeStamp}` };
        }}
        onPointerMove={(event) => move(event, true)}
        onPointerUp={(event) => {
          move(event, false);
          drag.current = null;
        }}
      >
        {loopS && (
          <rect
            x={x(loopS[0])}
            width={Math.max(1, x(loopS[1]) - x(loopS[0]))}
            y={HEIGHT - 6}
            height={6}
            fill="var(--action)"
            opacity={0.5}
          />
        )}
        {marks.map(([mark, timeS]) => (
          <line
            key={mark}
            x1={x(timeS)}
            x2={x(timeS)}
            y1={0}
            y2={HEIGHT}
            stroke={mark.startsWith("loop") ? "var(--action)" : "var(--ink)"}
            strokeWidth={1.4}
            strokeDasharray={mark.startsWith("loop") ? "3 2" : undefined}
            className="cursor-ew-resize"
          />
        ))}
        {look.begins_s > startS + 1e-4 && (
          <path d={`M${x(look.begins_s) - 4} 0h8l-4 6z`} fill="var(--action)" />
        )}
      </svg>
    </div>
  );
}
