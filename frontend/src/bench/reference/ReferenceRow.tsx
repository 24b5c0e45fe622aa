import { Play, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { ComparisonAnswer, Reference } from "../../api";
import { play } from "../../audio";
import {
  signedBytesOf,
  cssColour,
  fillOutline,
  prepared,
  useTheme,
  formatValue,
  type TimeScale,
} from "../../ui";
import { LABEL_WIDTH } from "../parts";
import { edit, useBench } from "../../sound";
import { BandLines } from "./BandLines";
import { withoutStretch, withStretch } from "./leftOut";
import { loadRecording } from "./loadRecording";
import { useComparison } from "./useComparison";

const HEIGHT = 112;
const WAVE = 52;

/** Under the result: the reference, moved to meet it, and where the two differ band by band. */
export function ReferenceRow({ scale }: { scale: TimeScale }) {
  const reference = useBench((state) => state.document?.reference ?? null);
  if (!reference) return null;
  return <Row reference={reference} scale={scale} />;
}

const change = (label: string, patch: Partial<Reference> | null) =>
  edit(label, (sound) => ({
    ...sound,
    reference: patch === null || !sound.reference ? null : { ...sound.reference, ...patch },
  }));

function Row({ reference, scale }: { reference: Reference; scale: TimeScale }) {
  const { found, problem } = useComparison();
  const [band, setBand] = useState(0);
  const [playProblem, setPlayProblem] = useState(false);
  const listen = async () => {
    setPlayProblem(false);
    try {
      play(await loadRecording(reference.recording), `reference-${reference.recording}`);
    } catch {
      setPlayProblem(true);
    }
  };
  return (
    <div className="flex border-b border-line-strong" style={{ height: HEIGHT }}>
      <div
        className="shrink-0 overflow-hidden border-r border-line px-3 py-1.5"
        style={{ width: LABEL_WIDTH }}
      >
        <h2 className="flex items-center gap-1 font-semibold">
          <span className="min-w-0 flex-1 truncate" title={reference.name}>
            {reference.name || "Reference"}
          </span>
          <button
            type="button"
            aria-label="Play the reference"
            title="Play the reference"
            className="grid size-6 place-items-center rounded-sm hover:bg-band"
            onClick={() => void listen()}
          >
            <Play size={12} aria-hidden />
          </button>
          <button
            type="button"
            aria-label="Remove the reference"
            title="Remove the reference"
            className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
            onClick={() => change("Reference removed", null)}
          >
            <X size={12} aria-hidden />
          </button>
        </h2>
        {(problem ?? (playProblem ? "It could not be loaded" : null)) && (
          <p role="alert" className="text-[11px] text-bad">
            {problem ?? "It could not be loaded"}
          </p>
        )}
        {found && <Figures found={found} />}
        {found && (
          <select
            aria-label="Band that is compared"
            className="mt-0.5 h-6 w-full rounded-sm border border-line bg-sheet text-[11px]"
            value={band}
            onChange={({ target }) => setBand(Number(target.value))}
          >
            {found.bands.map(({ name }, n) => (
              <option key={name} value={n}>
                {name}
              </option>
            ))}
          </select>
        )}
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">
        {found && <Wave found={found} reference={reference} scale={scale} />}
        {found && (
          <BandLines found={found} band={band} scale={scale} top={WAVE} height={HEIGHT - WAVE} />
        )}
      </div>
    </div>
  );
}

function Figures({ found }: { found: ComparisonAnswer }) {
  const { level_db, bands_mean_db, pitch_cent } = found.distance;
  const rows = [
    ["Level", `${level_db.toFixed(1)} dB`],
    ["Bands", `${bands_mean_db.toFixed(1)} dB`],
    ["Pitch", pitch_cent === null ? "–" : `${pitch_cent.toFixed(0)} ct`],
  ];
  return (
    <dl
      title="Mean difference from the reference"
      className="grid grid-cols-[auto_1fr] gap-x-1 text-[11px] leading-[14px]"
    >
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-ink-2">{name} off by</dt>
          <dd className="figure text-right">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

interface WaveProps {
  found: ComparisonAnswer;
  reference: Reference;
  scale: TimeScale;
}

/** The reference's outline at the time of the hit. A stretch that is dragged over is left out. */
function Wave({ found, reference, scale }: WaveProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const from = useRef<number | null>(null);
  const [drawn, setDrawn] = useState<{ start_s: number; end_s: number } | null>(null);
  const theme = useTheme((state) => state.theme);
  const { shift_s: shiftS, reference_length_s: lengthS, outline } = found;
  useEffect(() => {
    if (!canvas.current || scale.width <= 0) return;
    const context = prepared(canvas.current, scale.width, WAVE);
    context.fillStyle = cssColour("--slate");
    context.globalAlpha = 0.75;
    const moved: TimeScale = {
      ...scale,
      startS: scale.startS - shiftS,
      endS: scale.endS - shiftS,
      x: (timeS) => scale.x(timeS + shiftS),
      time: (x) => scale.time(x) - shiftS,
    };
    const reach = (WAVE / 2 - 3) * Math.min(1, outline.scale);
    fillOutline(
      context,
      { extremes: signedBytesOf(outline.data), lengthS },
      { scale: moved, middle: WAVE / 2, reach },
    );
  }, [outline, lengthS, scale, shiftS, theme]);
  const timeOf = (event: React.PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const timeS = scale.time(event.clientX - box.left) - shiftS;
    return Math.min(lengthS, Math.max(0, timeS));
  };
  const finish = (event: React.PointerEvent<SVGSVGElement>) => {
    const start = from.current;
    from.current = null;
    setDrawn(null);
    if (start === null) return;
    const end = timeOf(event);
    if (Math.abs(end - start) < 0.002) {
      const left = withoutStretch(reference.left_out, start);
      if (left !== reference.left_out) change("Span included again", { left_out: left });
      return;
    }
    const span = { start_s: Math.min(start, end), end_s: Math.max(start, end) };
    change(
      `Not part of the reference: ${formatValue(span.start_s, "s")} to ${formatValue(span.end_s, "s")}`,
      { left_out: withStretch(reference.left_out, span) },
    );
  };
  const spans = drawn ? [...reference.left_out, drawn] : reference.left_out;
  return (
    <>
      <canvas
        ref={canvas}
        role="img"
        aria-label="Waveform of the reference"
        className="absolute top-0 left-0"
        style={{ width: scale.width, height: WAVE }}
      />
      <svg
        width={scale.width}
        height={WAVE}
        className="absolute top-0 left-0 cursor-crosshair touch-none"
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          from.current = timeOf(event);
        }}
        onPointerMove={(event) => {
          const start = from.current;
          if (start === null) return;
          const end = timeOf(event);
          setDrawn({ start_s: Math.min(start, end), end_s: Math.max(start, end) });
        }}
        onPointerUp={finish}
      >
        <title>Drag over what is not part of the reference; click it to include it again</title>
        {spans.map(({ start_s, end_s }) => (
          <g key={`${start_s}-${end_s}`}>
            <rect
              x={scale.x(start_s + shiftS)}
              width={Math.max(1, scale.x(end_s + shiftS) - scale.x(start_s + shiftS))}
              height={WAVE}
              fill="var(--band)"
              opacity={0.85}
              stroke="var(--line-strong)"
              strokeDasharray="3 2"
            />
            <text x={scale.x(start_s + shiftS) + 4} y={11} fontSize={9.5} fill="var(--ink-2)">
              excluded
            </text>
          </g>
        ))}
      </svg>
    </>
  );
}
