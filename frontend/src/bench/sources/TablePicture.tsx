import { useEffect, useRef } from "react";
import type { CyclesData } from "../../api";
import { signedBytesOf, cssColour, prepared, useTheme } from "../../ui";

interface Props {
  cycles: CyclesData;
  width: number;
  height: number;
  /** Where the hit reads, 0 to 1 from the first frame to the last. */
  places?: number[];
  /** Frames that are drawn at most. */
  most?: number;
}

/** All frames one behind the other, and in another colour those that the hit passes. */
export function TablePicture({ cycles, width, height, places = [], most = 40 }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  useEffect(() => {
    if (!canvas.current) return;
    const context = prepared(canvas.current, width, height);
    const samples = signedBytesOf(cycles.data);
    const { frames, columns } = cycles;
    const shown = Math.min(frames, most);
    const low = Math.min(...places);
    const high = Math.max(...places);
    const [ink, action] = [cssColour("--ink-3"), cssColour("--action")];
    const depth = height * 0.62;
    const sideways = Math.min(width * 0.16, 40);
    // The last frame lies furthest back, so it is drawn first.
    for (let n = shown - 1; n >= 0; n--) {
      const way = shown === 1 ? 0 : n / (shown - 1);
      const frame = Math.round(way * (frames - 1));
      const half = 0.5 / Math.max(1, shown - 1);
      const read = places.length > 0 && way >= low - half && way <= high + half;
      context.strokeStyle = read ? action : ink;
      context.globalAlpha = read ? 0.95 : 0.6;
      context.lineWidth = read ? 1.3 : 0.8;
      const base = height - 8 - way * depth - height * 0.1;
      const left = 4 + way * sideways;
      const span = width - 8 - sideways;
      context.beginPath();
      for (let k = 0; k <= columns; k++) {
        const value = (samples[frame * columns + (k % columns)] ?? 0) / 127;
        context.lineTo(left + (k / columns) * span, base - value * height * 0.13);
      }
      context.stroke();
    }
  }, [cycles, width, height, places, most, theme]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`${cycles.frames} frames of the table`}
      className="rounded-control border border-line bg-sheet"
      style={{ width, height }}
    />
  );
}

/** The place in the table over the hit. */
export function PlaceLine({ places, placesS }: { places: number[]; placesS: number }) {
  const points = places.map(
    (place, n) => `${((n / (places.length - 1)) * 282).toFixed(1)},${(27 - place * 24).toFixed(1)}`,
  );
  return (
    <svg
      viewBox="0 0 282 30"
      role="img"
      aria-label={`Position over the hit, ${placesS.toFixed(2)} s`}
      className="mb-1 w-full rounded-control border border-line bg-sheet"
    >
      <polyline points={points.join(" ")} fill="none" stroke="var(--action)" strokeWidth={1.4} />
      <text x={278} y={9} fontSize={7.5} textAnchor="end" fill="var(--ink-2)">
        {placesS.toFixed(2)} s
      </text>
    </svg>
  );
}
