import { useEffect, useMemo, useRef } from "react";
import type { MixNow } from "../loop";
import { drawAlong, prepared, spectrogramImage, useTheme, type TimeScale } from "../ui";
import { LABEL_WIDTH } from "./rulerStore";

const HEIGHT = 84;

interface Props {
  scale: TimeScale;
  mix: MixNow;
}

/** The mix as a spectrogram, with its peak and loudness. */
export function MixRow({ scale, mix }: Props) {
  const { figures, problem, old } = mix;
  const measures = figures?.measures;
  const over = (measures?.true_peak_db ?? -1) > 0;
  return (
    <div className="flex border-b border-line-strong bg-sheet" style={{ height: HEIGHT }}>
      <div
        className="flex shrink-0 flex-col gap-0.5 border-r border-line px-3 py-2"
        style={{ width: LABEL_WIDTH }}
      >
        <h2 className="font-title text-[15px] font-semibold">Mix</h2>
        <Figure
          label="True peak"
          value={measures ? `${measures.true_peak_db.toFixed(1)} dB` : "…"}
          warn={over}
        />
        <Figure
          label="Loudness"
          value={measures ? `${measures.loudness_lufs.toFixed(1)} LUFS` : "…"}
        />
      </div>
      <div className={`relative min-w-0 flex-1 overflow-hidden ${old ? "opacity-60" : ""}`}>
        <Picture scale={scale} mix={mix} />
        {problem && (
          <p role="alert" className="absolute top-1 left-2 text-[12px] text-bad">
            The mix could not be measured: {problem}
          </p>
        )}
      </div>
    </div>
  );
}

function Figure({ label, value, warn = false }: { label: string; value: string; warn?: boolean }) {
  return (
    <p className="flex justify-between text-[12px] text-ink-2">
      {label}
      <span className={`figure ${warn ? "text-bad" : "text-ink"}`}>{value}</span>
    </p>
  );
}

function Picture({ scale, mix }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme((state) => state.theme);
  const { figures } = mix;
  const image = useMemo(
    () => (figures ? spectrogramImage(figures.spectrogram, theme) : null),
    [figures, theme],
  );
  useEffect(() => {
    if (!canvas.current || scale.width <= 0) return;
    const context = prepared(canvas.current, scale.width, HEIGHT);
    if (!image || !figures) return;
    drawAlong(context, image, { scale, lengthS: figures.length_s, height: HEIGHT });
  }, [image, figures, scale]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label="Spectrogram of the mix"
      className="absolute inset-0"
      style={{ width: scale.width, height: HEIGHT }}
    />
  );
}
