import { Ear, X } from "lucide-react";
import { useEffect, useMemo, useRef } from "react";
import type { AuditionAnswer } from "../../api";
import { keptAudio, playPosition, usePlayer } from "../../audio";
import {
  signedBytesOf,
  centsText,
  cssColour,
  drawAlong,
  fillOutline,
  prepared,
  strokeSamples,
  formatValue,
  spectrogramImage,
  useTheme,
  type TimeScale,
} from "../../ui";
import { chainPlaces, listenAt, stepName, useBench } from "../../sound";
import { LABEL_WIDTH } from "../parts";
import { LaneTraces } from "./LaneTraces";
import { GainOnRuler } from "./GainOnRuler";
import { OthersBehind, type Others } from "./OthersBehind";

const HEIGHT = 134;

/** Waveform over spectrogram of what is heard, and its figures. */
export function ResultRow({ scale, others }: { scale: TimeScale; others: Others | null }) {
  const audition = useBench((state) => state.audition);
  const problem = useBench((state) => state.auditionProblem);
  const rendering = useBench((state) => state.rendering);
  return (
    <div
      aria-busy={rendering}
      className="flex border-b border-line-strong"
      style={{ height: HEIGHT }}
    >
      <div className="shrink-0 border-r border-line px-3 py-2" style={{ width: LABEL_WIDTH }}>
        <ResultTitle />
        {audition && <Figures audition={audition} />}
        {problem && (
          <p role="alert" className="mt-1 text-[11px] text-bad">
            {problem}
          </p>
        )}
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">
        {audition && <Picture audition={audition} scale={scale} />}
        {others && <OthersBehind others={others} scale={scale} height={HEIGHT} />}
        <BehindTheLayers scale={scale} />
        <GainOnRuler scale={scale} height={HEIGHT} />
        <Playhead scale={scale} />
      </div>
    </div>
  );
}

/** Traces of what moves in buses and on main, where the layers have met. */
function BehindTheLayers({ scale }: { scale: TimeScale }) {
  const sound = useBench((state) => state.document);
  const selection = useBench((state) => state.selection);
  if (!sound) return null;
  const layers = new Set(sound.layers.map(({ id }) => id));
  const chained = chainPlaces(sound)
    .filter(({ owner }) => !layers.has(owner))
    .flatMap(({ chain }) => chain.map(({ id }) => id));
  const faint = selection.kind === "layer" || selection.kind === "pitch";
  const parts = ["main", ...sound.buses.map(({ id }) => id), ...chained];
  const place = { scale, height: HEIGHT, faint };
  return <LaneTraces parts={parts} name="buses and main" {...place} />;
}

/** "Result", or the step of the path that is heard instead, with the way back. */
function ResultTitle() {
  const step = useBench(({ document, listenAt: at }) =>
    document && at !== null ? stepName(document, at) : null,
  );
  const dry = useBench((state) => state.effectsOff);
  const draft = useBench((state) => state.gesture !== null);
  const rendering = useBench((state) => state.rendering);
  if (dry)
    return (
      <h2 className="mb-1 font-semibold text-warn" role="status">
        Effects bypassed
      </h2>
    );
  if (step === null)
    return (
      <h2 className="mb-1 flex justify-between font-semibold">
        Result
        {draft && (
          <span
            className="text-[11px] font-normal text-warn"
            title="Draft quality while you drag; final quality follows"
          >
            draft
          </span>
        )}
        {rendering && !draft && (
          <span
            className="appears-late text-[11px] font-normal text-ink-2"
            title="Shows the last render until this one is done"
          >
            rendering…
          </span>
        )}
      </h2>
    );
  return (
    <h2 className="mb-1 flex items-center gap-1 font-semibold text-action" role="status">
      <Ear size={13} aria-hidden className="shrink-0" />
      <span className="min-w-0 flex-1 truncate" title={`Listening after ${step}`}>
        {step}
      </span>
      <button
        type="button"
        aria-label="Back to the output"
        title="Back to the output"
        className="grid size-6 place-items-center rounded-sm hover:bg-band"
        onClick={() => listenAt(null)}
      >
        <X size={12} aria-hidden />
      </button>
    </h2>
  );
}

function Figures({ audition }: { audition: AuditionAnswer }) {
  const { measures } = audition;
  const rows: [string, string][] = [
    ["Peak", measures.peak_db <= -144 ? "silent" : `${measures.peak_db.toFixed(1)} dBFS`],
    [
      "Loudness",
      measures.loudness_lufs <= -144 ? "–" : `${measures.loudness_lufs.toFixed(1)} LUFS`,
    ],
    [
      "Length",
      measures.length_s < 1
        ? `${(measures.length_s * 1000).toFixed(0)} ms`
        : `${measures.length_s.toFixed(2)} s`,
    ],
    ["Note", measures.note === null ? "–" : `${measures.note} ${centsText(measures.cents ?? 0)}`],
    [
      "Settles",
      measures.fundamental_hz === null ? "–" : formatValue(measures.fundamental_hz, "Hz"),
    ],
  ];
  const { took } = audition;
  const made = took.stages - took.remembered;
  const timing = `Rendered in ${took.render_ms.toFixed(1)} ms: ${made} stages rendered, ${took.remembered} cached. Measured in ${took.measure_ms.toFixed(0)} ms.`;
  return (
    <dl title={timing} className="grid grid-cols-[auto_1fr] gap-x-1 gap-y-0.5">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-[11.5px] text-ink-2">{name}</dt>
          <dd className="figure text-right text-[11.5px] whitespace-nowrap">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** The samples themselves where the view is so close that an outline has no shape. */
function useCloseSamples(audition: AuditionAnswer, scale: TimeScale) {
  const framesShown = (scale.endS - scale.startS) * audition.sample_rate;
  const close = framesShown < 6 * scale.width;
  return close ? keptAudio(audition.digest) : null;
}

function Picture({ audition, scale }: { audition: AuditionAnswer; scale: TimeScale }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  const buffer = useCloseSamples(audition, scale);
  const image = useMemo(() => spectrogramImage(audition.spectrogram, theme), [audition, theme]);
  useEffect(() => {
    if (!canvas.current || scale.width <= 0) return;
    const context = prepared(canvas.current, scale.width, HEIGHT);
    const lengthS = audition.measures.length_s;
    drawAlong(context, image, { scale, lengthS, height: HEIGHT });
    const place = { scale, middle: HEIGHT / 2, reach: HEIGHT / 2 - 8 };
    context.fillStyle = context.strokeStyle = cssColour("--ink");
    context.globalAlpha = 0.72;
    if (buffer) {
      const loudest = 1 / Math.max(audition.outline.scale, 1e-6);
      const reach = place.reach * Math.min(loudest, 1);
      for (let channel = 0; channel < buffer.numberOfChannels; channel++) {
        const samples = buffer.getChannelData(channel);
        strokeSamples(context, { samples, sampleRate: buffer.sampleRate }, { ...place, reach });
      }
    } else {
      const reach = place.reach * Math.min(1, audition.outline.scale);
      const extremes = signedBytesOf(audition.outline.data);
      fillOutline(context, { extremes, lengthS }, { ...place, reach });
    }
  }, [audition, image, scale, buffer]);
  const { low_hz, high_hz } = audition.spectrogram;
  return (
    <>
      <canvas
        ref={canvas}
        data-digest={audition.digest}
        role="img"
        aria-label="Waveform over spectrogram of the rendered hit"
        className="absolute inset-0"
        style={{ width: scale.width, height: HEIGHT }}
      />
      <span className="figure absolute top-1 right-2 text-[10.5px] text-ink-2">
        {(high_hz / 1000).toFixed(0)} kHz
      </span>
      <span className="figure absolute right-2 bottom-1 text-[10.5px] text-ink-2">
        {low_hz.toFixed(0)} Hz
      </span>
    </>
  );
}

function Playhead({ scale }: { scale: TimeScale }) {
  const line = useRef<HTMLDivElement>(null);
  const key = usePlayer((state) => state.key);
  useEffect(() => {
    let frame = 0;
    const move = () => {
      const at = playPosition();
      if (line.current) {
        line.current.style.opacity = at === null ? "0" : "1";
        line.current.style.transform = `translateX(${scale.x(Math.max(0, at ?? 0))}px)`;
      }
      if (key !== null) frame = requestAnimationFrame(move);
    };
    move();
    return () => cancelAnimationFrame(frame);
  }, [key, scale]);
  return (
    <div
      ref={line}
      aria-hidden
      className="pointer-events-none absolute inset-y-0 left-0 w-px bg-bad opacity-0"
    />
  );
}
