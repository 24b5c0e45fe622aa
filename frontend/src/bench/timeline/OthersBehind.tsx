import { useEffect, useRef } from "react";
import type { OutlineData } from "../../api";
import {
  cssColour,
  fillOutline,
  prepared,
  signedBytesOf,
  useTheme,
  type TimeScale,
} from "../../ui";

/** What the other parts of a try-out play while the sound is heard. */
export interface Others {
  outline: OutlineData;
  lengthS: number;
  /** Where in the round the sound is hit. */
  fromS: number;
}

interface Props {
  others: Others;
  scale: TimeScale;
  height: number;
}

/** The others' level, faint behind the sound and from where it is hit on. */
export function OthersBehind({ others, scale, height }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  useEffect(() => {
    if (!canvas.current || scale.width <= 0) return;
    const context = prepared(canvas.current, scale.width, height);
    context.fillStyle = cssColour("--ochre");
    context.globalAlpha = 0.28;
    const { outline, lengthS, fromS } = others;
    const moved = {
      ...scale,
      startS: scale.startS + fromS,
      endS: scale.endS + fromS,
      x: (timeS: number) => scale.x(timeS - fromS),
    };
    const extremes = signedBytesOf(outline.data);
    const reach = (height / 2 - 8) * Math.min(1, outline.scale);
    fillOutline(context, { extremes, lengthS }, { scale: moved, middle: height / 2, reach });
  }, [others, scale, height, theme]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label="Level of the other parts of the try-out"
      className="pointer-events-none absolute inset-0"
      style={{ width: scale.width, height }}
    />
  );
}
