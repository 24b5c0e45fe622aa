import { useEffect, useRef } from "react";
import type { JudgedOverlap } from "../api";
import { cssColour, prepared, useTheme } from "../ui";

const HEIGHT = 118;
const WIDTH = 276;
const SPAN_DB = 50;

interface Props {
  judged: JudgedOverlap;
  first: string;
  second: string;
}

/** Both parts over time and frequency, one pigment each; where they cover each other is marked. */
export function HeatMap({ judged, first, second }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  useEffect(() => {
    if (!canvas.current) return;
    const context = prepared(canvas.current, WIDTH, HEIGHT);
    const bands = judged.first_db.length;
    const steps = judged.first_db[0]?.length ?? 0;
    if (steps === 0) return;
    const cell = { width: WIDTH / steps, height: HEIGHT / bands };
    const layer = (levels: number[][], colour: string) => {
      const top = Math.max(...levels.flat());
      context.fillStyle = cssColour(colour);
      levels.forEach((row, band) =>
        row.forEach((level, step) => {
          const share = 1 + (level - top) / SPAN_DB;
          if (share <= 0.05) return;
          context.globalAlpha = share * 0.6;
          context.fillRect(
            step * cell.width,
            HEIGHT - (band + 1) * cell.height,
            cell.width + 0.4,
            cell.height + 0.4,
          );
        }),
      );
    };
    layer(judged.first_db, "--slate");
    layer(judged.second_db, "--ochre");
    context.globalAlpha = 1;
    context.strokeStyle = cssColour("--rust");
    context.lineWidth = 1.2;
    judged.covered.forEach((row, band) =>
      row.forEach((is, step) => {
        if (!is) return;
        context.strokeRect(
          step * cell.width + 0.5,
          HEIGHT - (band + 1) * cell.height + 0.5,
          cell.width - 1,
          Math.max(1, cell.height - 1),
        );
      }),
    );
  }, [judged, theme]);
  const bands = judged.bands_hz;
  const mark = (hz: number) => {
    const at = bands.findIndex((one) => one >= hz * 0.95);
    return HEIGHT - ((at + 0.5) / bands.length) * HEIGHT;
  };
  const seconds = (judged.first_db[0]?.length ?? 0) * 0.005;
  return (
    <figure className="grid gap-0.5">
      <div className="relative overflow-hidden rounded-control border border-line-strong bg-sheet">
        <canvas
          ref={canvas}
          role="img"
          aria-label={`Levels of ${first} and ${second} by third octave over ${(seconds * 1000).toFixed(0)} ms; ${judged.covered.flat().filter(Boolean).length} cells are covered by both`}
          style={{ width: "100%", height: HEIGHT }}
        />
        {[100, 1000, 10000].map((hz) => (
          <span
            key={hz}
            className="figure pointer-events-none absolute right-1 -translate-y-1/2 text-[10px] text-ink-2"
            style={{ top: mark(hz) }}
          >
            {hz >= 1000 ? `${hz / 1000} kHz` : `${hz} Hz`}
          </span>
        ))}
      </div>
      <figcaption className="figure flex justify-between text-[10.5px] text-ink-2">
        <span>0 ms</span>
        <span>{(seconds * 1000).toFixed(0)} ms</span>
      </figcaption>
      <p className="flex flex-wrap gap-x-3 text-[11.5px] text-ink-2">
        <Key sign="■" colour="var(--slate)" words={first} />
        <Key sign="■" colour="var(--ochre)" words={second} />
        <Key sign="□" colour="var(--rust)" words="both" />
      </p>
    </figure>
  );
}

function Key({ sign, colour, words }: { sign: string; colour: string; words: string }) {
  return (
    <span className="max-w-full truncate">
      <span aria-hidden style={{ color: colour }}>
        {sign}
      </span>{" "}
      {words}
    </span>
  );
}
