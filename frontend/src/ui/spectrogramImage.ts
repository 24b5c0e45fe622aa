import type { SpectrogramData } from "../api";
import { bytesOf } from "./base64";

type Colour = [number, number, number];
type Wash = [number, Colour][];

// Ink wash: from the sheet over eggshell and deep teal to ink.
const LIGHT: Wash = [
  [0, [255, 253, 248]],
  [0.3, [255, 253, 248]],
  [0.5, [214, 230, 222]],
  [0.72, [92, 152, 146]],
  [0.88, [32, 92, 98]],
  [1, [34, 48, 58]],
];
const DARK: Wash = [
  [0, [31, 36, 39]],
  [0.3, [31, 36, 39]],
  [0.5, [38, 64, 66]],
  [0.72, [58, 122, 118]],
  [0.88, [132, 192, 180]],
  [1, [240, 232, 214]],
];

function colourAt(wash: Wash, at: number): Colour {
  const upper = wash.findIndex(([stop]) => stop >= at);
  const [stopB, b] = wash[Math.max(0, upper)] ?? [1, [0, 0, 0]];
  const [stopA, a] = wash[Math.max(0, upper - 1)] ?? [0, [0, 0, 0]];
  const part = stopB === stopA ? 0 : (at - stopA) / (stopB - stopA);
  return [0, 1, 2].map((n) => (a[n] ?? 0) + ((b[n] ?? 0) - (a[n] ?? 0)) * part) as Colour;
}

/** The spectrogram as an image, one pixel a cell, highest row on top. */
export function spectrogramImage(
  data: SpectrogramData,
  theme: "light" | "dark",
): HTMLCanvasElement {
  const { rows, columns } = data;
  const levels = bytesOf(data.data);
  const wash = theme === "light" ? LIGHT : DARK;
  const palette = Array.from({ length: 256 }, (_, n) => colourAt(wash, n / 255));
  const canvas = document.createElement("canvas");
  canvas.width = columns;
  canvas.height = rows;
  const context = canvas.getContext("2d");
  if (!context) return canvas;
  const image = context.createImageData(columns, rows);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const [r, g, b] = palette[levels[row * columns + column] ?? 0] ?? [0, 0, 0];
      image.data.set([r, g, b, 255], ((rows - 1 - row) * columns + column) * 4);
    }
  }
  context.putImageData(image, 0, 0);
  return canvas;
}
