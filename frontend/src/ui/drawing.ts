import type { TimeScale } from "./timeScale";

/** A canvas sized for the screen's own pixels and cleared; drawing is in CSS pixels. */
export function prepared(canvas: HTMLCanvasElement, width: number, height: number) {
  const ratio = window.devicePixelRatio || 1;
  canvas.width = Math.max(1, Math.round(width * ratio));
  canvas.height = Math.max(1, Math.round(height * ratio));
  const context = canvas.getContext("2d");
  if (!context) throw new Error("no 2D canvas here");
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  return context;
}

export function cssColour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

/** Extremes (lowest, highest) per column of a span of the signal, as fractions of its scale. */
export interface OutlineShape {
  extremes: Int8Array;
  lengthS: number;
}

/** Fill an outline on the ruler; values of ±127 reach ``reach`` pixels from the middle. */
export function fillOutline(
  context: CanvasRenderingContext2D,
  { extremes, lengthS }: OutlineShape,
  { scale, middle, reach }: { scale: TimeScale; middle: number; reach: number },
) {
  const columns = extremes.length / 2;
  if (columns === 0) return;
  const first = Math.max(0, Math.floor((scale.startS / lengthS) * columns) - 1);
  const last = Math.min(columns - 1, Math.ceil((scale.endS / lengthS) * columns) + 1);
  const x = (column: number) => scale.x(((column + 0.5) / columns) * lengthS);
  context.beginPath();
  for (let n = first; n <= last; n++)
    context.lineTo(x(n), middle - ((extremes[2 * n + 1] ?? 0) / 127) * reach - 0.35);
  for (let n = last; n >= first; n--)
    context.lineTo(x(n), middle - ((extremes[2 * n] ?? 0) / 127) * reach + 0.35);
  context.closePath();
  context.fill();
}

/** Draw samples themselves as a line, for views so close that an outline has no shape. */
export function strokeSamples(
  context: CanvasRenderingContext2D,
  { samples, sampleRate }: { samples: Float32Array; sampleRate: number },
  { scale, middle, reach }: { scale: TimeScale; middle: number; reach: number },
) {
  const first = Math.max(0, Math.floor(scale.startS * sampleRate));
  const last = Math.min(samples.length - 1, Math.ceil(scale.endS * sampleRate));
  context.beginPath();
  for (let n = first; n <= last; n++)
    context.lineTo(scale.x(n / sampleRate), middle - (samples[n] ?? 0) * reach);
  context.stroke();
}

/** An image that spans 0 to ``lengthS``, laid along the ruler; in slices where that is not even. */
export function drawAlong(
  context: CanvasRenderingContext2D,
  image: HTMLCanvasElement | OffscreenCanvas,
  { scale, lengthS, height }: { scale: TimeScale; lengthS: number; height: number },
) {
  context.imageSmoothingQuality = "high";
  const from = scale.x(0);
  if (scale.shape === "even") {
    context.drawImage(image, from, 0, scale.x(lengthS) - from, height);
    return;
  }
  const slice = 2;
  const end = Math.min(scale.width, scale.x(lengthS));
  for (let x = Math.max(0, from); x < end; x += slice) {
    const left = (scale.time(x) / lengthS) * image.width;
    const right = (scale.time(Math.min(end, x + slice)) / lengthS) * image.width;
    const width = Math.min(slice, end - x);
    context.drawImage(
      image,
      left,
      0,
      Math.max(0.02, right - left),
      image.height,
      x,
      0,
      width,
      height,
    );
  }
}
