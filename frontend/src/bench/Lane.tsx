import { Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Layer } from "../api/types";
import { signedBytesOf } from "../ui/base64";
import { cssColour, fillOutline, prepared } from "../ui/drawing";
import { PIGMENTS } from "../ui/pigments";
import { useTheme } from "../ui/theme";
import type { TimeScale } from "../ui/timeScale";
import { formatValue } from "../ui/units";
import { CurveEditor } from "./CurveEditor";
import { withLayer } from "./edits";
import { LABEL_WIDTH } from "./Lanes";
import { type CurveName, edit, select, takeInHand, useBench } from "./store";

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
  const { colour } = PIGMENTS[layer.pigment];
  return (
    <div
      data-layer={layer.id}
      className="relative flex border-b border-line"
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
        <LaneWaveform layer={layer} scale={scale} height={height} />
        <CurveEditor layer={layer} curveName={inHand} scale={scale} height={height} />
        <Chips layer={layer} inHand={inHand} />
      </div>
    </div>
  );
}

function LaneLabel({ layer, number }: { layer: Layer; number: number }) {
  const { glyph, colour } = PIGMENTS[layer.pigment];
  const toggle = (name: "mute" | "solo") =>
    edit(`${layer.name}: ${name} ${layer[name] ? "off" : "on"}`, (sound) =>
      withLayer(sound, layer.id, (now) => ({ ...now, [name]: !now[name] })),
    );
  const remove = () => {
    edit(`Layer removed: ${layer.name}`, (sound) => ({
      ...sound,
      layers: sound.layers.filter((one) => one.id !== layer.id),
    }));
    select({ kind: "main" });
  };
  return (
    <div
      className="group/label flex shrink-0 flex-col border-r border-line py-2 pr-2 pl-3"
      style={{ width: LABEL_WIDTH }}
    >
      <button
        type="button"
        className="flex min-h-6 items-center gap-1.5 text-left font-semibold"
        title={`Select (${number})`}
        onClick={() => select({ kind: "layer", id: layer.id })}
      >
        <span aria-hidden style={{ color: colour }}>
          {glyph}
        </span>
        <span className="truncate">{layer.name}</span>
      </button>
      <p className="pl-[18px] text-[11.5px] text-ink-2">{describe(layer)}</p>
      <div className="mt-auto flex items-center gap-1">
        <Switch
          label={`Mute ${layer.name}`}
          letter="M"
          on={layer.mute}
          onPress={() => toggle("mute")}
        />
        <Switch
          label={`Solo ${layer.name}`}
          letter="S"
          on={layer.solo}
          onPress={() => toggle("solo")}
        />
        <button
          type="button"
          aria-label={`Remove ${layer.name}`}
          title="Remove"
          onClick={remove}
          className="grid size-6 place-items-center rounded-sm text-ink-3 opacity-0 group-hover/label:opacity-100 hover:bg-band focus-visible:opacity-100"
        >
          <Trash2 size={13} aria-hidden />
        </button>
        <span className="figure ml-auto text-[11px] whitespace-nowrap text-ink-2">
          {formatValue(layer.level_db, "dB")}
        </span>
      </div>
    </div>
  );
}

const SHAPES = ["sine", "triangle", "sawtooth", "pulse"];

function describe(layer: Layer): string {
  switch (layer.source.kind) {
    case "tone": {
      const { shape, cycle, unison } = layer.source;
      const name = SHAPES[Math.round(shape)] ?? "";
      const kind =
        cycle === "partials" ? "partials" : Number.isInteger(shape) ? name : `near ${name}`;
      return `tone · ${kind}${unison.voices > 1 ? ` × ${unison.voices}` : ""}`;
    }
    case "noise": {
      const { texture, colour_db } = layer.source;
      if (texture !== "even") return `noise · ${texture}`;
      return `noise · ${colour_db === 0 ? "white" : formatValue(colour_db, "dB") + "/oct"}`;
    }
  }
}

function Switch({
  label,
  letter,
  on,
  onPress,
}: {
  label: string;
  letter: string;
  on: boolean;
  onPress: () => void;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={on}
      onClick={onPress}
      className={`size-6 rounded-sm border text-[11px] font-semibold ${on ? "border-ink bg-ink text-sheet" : "border-line-strong bg-sheet"}`}
    >
      {letter}
    </button>
  );
}

const CURVES: { name: CurveName; label: string }[] = [
  { name: "level", label: "Level" },
  { name: "pitch", label: "Pitch" },
];

function Chips({ layer, inHand }: { layer: Layer; inHand: CurveName }) {
  const { colour } = PIGMENTS[layer.pigment];
  const offered = layer.source.kind === "noise" ? CURVES.slice(0, 1) : CURVES;
  return (
    <div
      className="absolute top-1.5 right-2 flex gap-1.5"
      role="group"
      aria-label={`Curve in hand of ${layer.name}`}
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
