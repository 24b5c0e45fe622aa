import { useEffect, useRef } from "react";
import type { ComparedAnswer } from "../api";
import { cssColour, fillOutline, prepared, signedBytesOf, useTheme, type TimeScale } from "../ui";
import { lettersOf } from "./letters";

interface Props {
  compared: ComparedAnswer;
  scale: TimeScale;
  height: number;
}

/** The waveforms below each other, at one scale. */
export function Waves({ compared, scale, height }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  useEffect(() => {
    if (!canvas.current || scale.width <= 0) return;
    const context = prepared(canvas.current, scale.width, height);
    const { sides, length_s: lengthS } = compared;
    const largest = Math.max(1e-6, ...sides.map(({ outline }) => outline.scale));
    const each = height / sides.length;
    sides.forEach(({ outline }, n) => {
      context.fillStyle = cssColour(lettersOf(n).colour.slice(4, -1));
      const reach = (each / 2 - 3) * (outline.scale / largest);
      const extremes = signedBytesOf(outline.data);
      fillOutline(context, { extremes, lengthS }, { scale, middle: (n + 0.5) * each, reach });
    });
  }, [compared, scale, height, theme]);
  return (
    <>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Waveforms of ${compared.sides.map((_, n) => lettersOf(n).letter).join(", ")}`}
        className="pointer-events-none absolute inset-0"
        style={{ width: scale.width, height }}
      />
      {compared.sides.map((_, n) => (
        <b
          key={n}
          aria-hidden
          className="absolute left-2 text-[11px]"
          style={{ color: lettersOf(n).colour, top: (n * height) / compared.sides.length + 2 }}
        >
          {lettersOf(n).letter}
        </b>
      ))}
    </>
  );
}
