import type { RoundPlan, TryOut, TryOutPart } from "../api";
import { cssColour, type TimeScale } from "../ui";
import { outlineOf, type Shape } from "./hitShapes";

/** What a lane is drawn with. */
export interface Pen {
  context: CanvasRenderingContext2D;
  scale: TimeScale;
  height: number;
  ink: string;
}

export function drawGrid({ context, scale, height }: Pen, document: TryOut): void {
  const beatS = 60 / document.tempo_bpm;
  const step = scale.x(beatS) - scale.x(0) > 7 ? 1 : document.beats_a_bar;
  context.lineWidth = 1;
  for (let beat = 0; beat * beatS <= document.length_s + 1e-6; beat += step) {
    const x = Math.round(scale.x(beat * beatS)) + 0.5;
    const strong = beat % document.beats_a_bar === 0;
    context.strokeStyle = cssColour(strong ? "--line-strong" : "--line");
    context.beginPath();
    context.moveTo(x, 0);
    context.lineTo(x, height);
    context.stroke();
  }
}

/** The peak of the loudest hit of a lane, so that a quiet part is seen as well. */
export const loudestOf = (shapes: readonly Shape[]) =>
  Math.max(1e-4, ...shapes.map(({ buffer }) => (buffer ? outlineOf(buffer).peak : 0)));

/** The waveform of a hit, where it lies and until it ends or is choked. */
export function drawShape({ context, scale, height, ink }: Pen, shape: Shape, loudest: number) {
  const { buffer, atS } = shape;
  const middle = height / 2;
  if (!buffer) {
    context.strokeStyle = ink;
    context.setLineDash([3, 3]);
    context.strokeRect(scale.x(atS), middle - 10, 18, 20);
    context.setLineDash([]);
    return;
  }
  const outline = outlineOf(buffer).extremes;
  const columns = outline.length / 2;
  const whole = buffer.duration;
  const endS = shape.untilS === null ? whole : Math.min(whole, shape.untilS - atS);
  const shownS = Math.min(endS, scale.endS - atS);
  if (shownS <= 0) return;
  const last = Math.min(columns, Math.ceil((shownS / whole) * columns) + 1);
  const reach = ((middle - 5) * shape.gain) / loudest;
  const x = (column: number) => scale.x(atS + (column / columns) * whole);
  context.fillStyle = ink;
  context.beginPath();
  context.moveTo(x(0), middle);
  for (let n = 0; n < last; n++)
    context.lineTo(x(n), middle - (outline[2 * n + 1] ?? 0) * reach - 0.4);
  for (let n = last - 1; n >= 0; n--)
    context.lineTo(x(n), middle - (outline[2 * n] ?? 0) * reach + 0.4);
  context.closePath();
  const before = context.globalAlpha;
  context.globalAlpha = before * 0.7;
  context.fill();
  context.globalAlpha = before;
}

/** Where hits begin, which of them chance leaves out this time, and which are chosen. */
export function drawMarks(pen: Pen, part: TryOutPart, shapes: Shape[], hits: number[]): void {
  const { context, scale, height, ink } = pen;
  const middle = height / 2;
  const heard = new Map(shapes.map((shape) => [shape.hit, shape.atS]));
  part.hits.forEach((hit, n) => {
    const x = scale.x(heard.get(n) ?? hit.at_s + part.offset_s);
    if (x < -4 || x > scale.width + 4) return;
    const tall = 4 + ((middle - 8) * hit.velocity) / 127;
    const isChosen = hits.includes(n);
    context.strokeStyle = ink;
    context.lineWidth = isChosen ? 2.5 : 1.2;
    context.setLineDash(heard.has(n) ? [] : [2, 3]);
    context.beginPath();
    context.moveTo(x, middle - tall);
    context.lineTo(x, middle + tall);
    context.stroke();
    context.setLineDash([]);
    if (!isChosen) return;
    context.fillStyle = cssColour("--action");
    context.fillRect(x - 3.5, middle - tall - 3, 7, 6);
    context.fillRect(x - 3.5, middle + tall - 3, 7, 6);
  });
}

const DUCK_SPAN_DB = 24;

/** The gain by which a part is pulled down, from the top of its lane. */
export function drawDuck(pen: Pen, points: RoundPlan["ducks"][number]["points"]): void {
  const { context, scale, height } = pen;
  context.strokeStyle = cssColour("--bad");
  context.lineWidth = 1.2;
  context.setLineDash([3, 2]);
  context.beginPath();
  for (const { at_s, gain_db } of points) {
    const y = 4 + (Math.min(DUCK_SPAN_DB, -gain_db) / DUCK_SPAN_DB) * (height - 10);
    context.lineTo(scale.x(at_s), y);
  }
  context.stroke();
  context.setLineDash([]);
}
