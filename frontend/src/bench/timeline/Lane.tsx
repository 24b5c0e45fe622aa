import { useEffect, useRef } from "react";
import type { Layer } from "../../api";
import {
  signedBytesOf,
  cssColour,
  fillOutline,
  prepared,
  PIGMENTS,
  useTheme,
  type TimeScale,
} from "../../ui";
import { CurveEditor, CurveMarks, OtherCurve } from "../curves";
import { isPitched, takeInHand, useBench, type LayerCurve } from "../../sound";
import { GridLines } from "./GridLines";
import { LaneLabel } from "./LaneLabel";
import { LaneTraces } from "./LaneTraces";

interface Props {
  layer: Layer;
  number: number;
  scale: TimeScale;
  height: number;
}

/** One layer: what it is, its own rendered waveform, and its curves over it. */
export function Lane({ layer, number, scale, height }: Props) {
  const selected = useBench(
    ({ selection }) => selection.kind === "layer" && selection.id === layer.id,
  );
  const inHand = useBench((state) => state.curves[layer.id] ?? "level");
  const baseHz = useBench((state) => state.details?.layers[layer.id]?.base_hz ?? null);
  // While the level of the whole sound is moved, every layer shows that it is meant.
  const touched = useBench(
    ({ gesture }) => gesture === "Main.level_db" || gesture === `${layer.name}.level_db`,
  );
  const { colour } = PIGMENTS[layer.pigment];
  const along = { layer, curveName: inHand, scale, height };
  return (
    <div
      data-layer={layer.id}
      className={`relative flex border-b border-line ${touched ? "outline-2 -outline-offset-2 outline-action" : ""}`}
      style={{
        height,
        background: selected ? `color-mix(in srgb, ${colour} 7%, var(--sheet))` : undefined,
        boxShadow: selected ? `inset 3px 0 ${colour}` : undefined,
      }}
    >
      <LaneLabel layer={layer} number={number} />
      <div
        className="relative min-w-0 flex-1 overflow-hidden"
        style={{ opacity: layer.mute ? 0.4 : 1 }}
      >
        <GridLines scale={scale} height={height} />
        <LaneWaveform layer={layer} scale={scale} height={height} />
        <OtherCurve {...along} />
        <LaneTraces
          parts={[layer.id, ...layer.chain.map(({ id }) => id)]}
          name={layer.name}
          scale={scale}
          height={height}
        />
        <CurveEditor
          curveRef={{ layerId: layer.id, name: inHand }}
          curve={layer[inHand]}
          owner={layer.name}
          delayS={layer.delay_s}
          colour={colour}
          scale={scale}
          height={height}
          baseHz={baseHz}
        />
        <CurveMarks {...along} />
        <Chips layer={layer} inHand={inHand} />
      </div>
    </div>
  );
}

const CURVES: { name: LayerCurve; label: string }[] = [
  { name: "level", label: "Level" },
  { name: "pitch", label: "Pitch" },
];

function Chips({ layer, inHand }: { layer: Layer; inHand: LayerCurve }) {
  const { colour } = PIGMENTS[layer.pigment];
  const offered = isPitched(layer.source) ? CURVES : CURVES.slice(0, 1);
  return (
    <div
      className="absolute top-1.5 right-2 flex gap-1.5"
      role="group"
      aria-label={`Curve to edit of ${layer.name}`}
    >
      {offered.map(({ name, label }) => {
        const on = name === inHand;
        const style = on
          ? { background: colour, borderColor: colour, color: "var(--sheet)" }
          : { background: "var(--sheet)", borderColor: colour, color: colour };
        return (
          <button
            key={name}
            type="button"
            aria-pressed={on}
            style={style}
            onClick={() => takeInHand(layer.id, name)}
            className="min-h-6 rounded-full border px-2.5 text-[11px] font-medium"
          >
            {label}
          </button>
        );
      })}
    </div>
  );
}

function LaneWaveform({ layer, scale, height }: Omit<Props, "number">) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const outline = useBench((state) => state.audition?.layers[layer.id]);
  const lengthS = useBench((state) => state.audition?.measures.length_s ?? 0);
  const theme = useTheme((state) => state.theme);
  useEffect(() => {
    if (!canvas.current || scale.width <= 0) return;
    const context = prepared(canvas.current, scale.width, height);
    if (!outline || lengthS <= 0) return;
    context.fillStyle = cssColour(`--${layer.pigment}`);
    context.globalAlpha = 0.2;
    const place = {
      scale,
      middle: height / 2,
      reach: (height / 2 - 6) * Math.min(1, outline.scale),
    };
    fillOutline(context, { extremes: signedBytesOf(outline.data), lengthS }, place);
  }, [outline, lengthS, scale, layer.pigment, theme, height]);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      className="absolute inset-0"
      style={{ width: scale.width, height: height }}
    />
  );
}
