import { useEffect, useRef } from "react";
import type { TryOutPart } from "../api";
import { isHeard, type Heard, type RoundNow } from "../loop";
import { cssColour, prepared, useTheme, type TimeScale } from "../ui";
import { drawDuck, drawGrid, drawMarks, drawShape, loudestOf } from "./drawHits";
import type { Shape } from "./hitShapes";

interface Props {
  part: TryOutPart;
  heard: Heard;
  round: RoundNow;
  scale: TimeScale;
  /** Of the lane, in pixels. */
  height: number;
  shapes: Shape[];
  hits: number[];
  colour: string;
}

/** Hits as they sound, where they begin, which are chosen, and what pulls them down. */
export function HitPicture(props: Props) {
  const { part, heard, shapes, hits, scale, height, colour, round } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  const { document } = heard;
  useEffect(() => {
    if (!canvas.current || scale.width <= 0) return;
    const context = prepared(canvas.current, scale.width, height);
    const pen = { context, scale, height, ink: cssColour(colour.slice(4, -1)) };
    drawGrid(pen, document);
    context.globalAlpha = isHeard(document, part) ? 1 : 0.35;
    const loudest = loudestOf(shapes);
    for (const shape of shapes) drawShape(pen, shape, loudest);
    drawMarks(pen, part, shapes, hits);
    for (const duck of round.plan?.ducks ?? [])
      if (duck.part === part.id) drawDuck(pen, duck.points);
  }, [part, shapes, hits, scale, height, colour, document, round.plan, theme]);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      className="absolute inset-0"
      style={{ width: scale.width, height }}
    />
  );
}
