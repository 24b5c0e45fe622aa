import { useRef, useState } from "react";
import type { LookedMode, StruckSource } from "../../api";
import { formatValue } from "../../ui";
import { PartFields } from "../parts";
import { changeOf, withMode } from "../../sound";
import type { SourceProps } from "./sourceProps";

interface Props extends SourceProps<StruckSource> {
  modes: LookedMode[];
}

const WIDTH = 282;
const HEIGHT = 104;
const FLOOR_DB = -60;
const LOW_HZ = 30;
const HIGH_HZ = 20000;
const OCTAVES = Math.log2(HIGH_HZ / LOW_HZ);

const xOf = (hz: number) =>
  (Math.log2(Math.min(HIGH_HZ, Math.max(LOW_HZ, hz)) / LOW_HZ) / OCTAVES) * WIDTH;
const heightOf = (db: number) => Math.max(2, (1 - db / FLOOR_DB) * (HEIGHT - 14));

/** Modes as bars over frequency: as high as loud, as bold as long they ring. Dragged sideways a mode
 * is tuned, upwards made louder; with Alt it rings longer; a double click mutes it. */
export function ModeBars({ owner, layerId, source, declarations, modes, onChange }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const drag = useRef<{ x: number; y: number; mode: number; gesture: string } | null>(null);
  const from = useRef({ shift_cent: 0, level_db: 0, ring: 1 });
  const inHand = modes.find(({ mode }) => mode === chosen);

  const change = (mode: number, words: string, patch: object, gesture: string, moving: boolean) =>
    onChange(
      `${owner}: mode ${mode} ${words}`,
      { changes: withMode(source, mode, patch) },
      { gesture, moving },
    );

  const grab = (event: React.PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || event.button !== 0) return;
    const x = ((event.clientX - box.left) / box.width) * WIDTH;
    const nearest = modes.reduce<LookedMode | null>(
      (best, one) =>
        best === null || Math.abs(xOf(one.hz) - x) < Math.abs(xOf(best.hz) - x) ? one : best,
      null,
    );
    if (!nearest) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setChosen(nearest.mode);
    const { shift_cent, level_db, ring } = changeOf(source, nearest.mode);
    from.current = { shift_cent, level_db, ring };
    drag.current = {
      x: event.clientX,
      y: event.clientY,
      mode: nearest.mode,
      gesture: `mode@${event.timeStamp}`,
    };
  };

  const move = (event: React.PointerEvent, moving: boolean) => {
    const grip = drag.current;
    const box = svg.current?.getBoundingClientRect();
    if (!grip || !box) return;
    const fine = event.shiftKey ? 0.1 : 1;
    const right = ((event.clientX - grip.x) / box.width) * fine;
    const up = ((grip.y - event.clientY) / box.height) * fine;
    if (Math.abs(event.clientX - grip.x) + Math.abs(event.clientY - grip.y) < 3 && moving) return;
    const start = from.current;
    if (event.altKey)
      return change(grip.mode, "rings", { ring: start.ring * 2 ** (3 * up) }, grip.gesture, moving);
    // The way that the hand goes first is the one that is meant.
    const patch =
      Math.abs(event.clientX - grip.x) > Math.abs(event.clientY - grip.y)
        ? {
            shift_cent: Math.round(start.shift_cent + right * OCTAVES * 1200),
            level_db: start.level_db,
          }
        : {
            level_db: Math.round((start.level_db - up * FLOOR_DB) * 10) / 10,
            shift_cent: start.shift_cent,
          };
    change(grip.mode, "dragged", patch, grip.gesture, moving);
  };

  const keys = (event: React.KeyboardEvent) => {
    const order = modes.map(({ mode }) => mode);
    const at = chosen === null ? -1 : order.indexOf(chosen);
    const own = chosen === null ? null : changeOf(source, chosen);
    const big = event.shiftKey ? 10 : 1;
    const go = (step: number) =>
      setChosen(order[Math.min(order.length - 1, Math.max(0, at + step))] ?? null);
    const act: Record<string, () => void> = {
      ArrowLeft: () => go(-1),
      ArrowRight: () => go(1),
      ArrowUp: () =>
        own &&
        change(own.mode, "louder", { level_db: own.level_db + 0.5 * big }, "mode-level", false),
      ArrowDown: () =>
        own &&
        change(own.mode, "softer", { level_db: own.level_db - 0.5 * big }, "mode-level", false),
      m: () =>
        own && change(own.mode, own.mute ? "heard" : "muted", { mute: !own.mute }, "mute", false),
      "+": () =>
        own &&
        change(own.mode, "higher", { shift_cent: own.shift_cent + 5 * big }, "mode-hz", false),
      "-": () =>
        own &&
        change(own.mode, "lower", { shift_cent: own.shift_cent - 5 * big }, "mode-hz", false),
    };
    const wanted = act[event.key];
    if (!wanted) return;
    event.preventDefault();
    event.stopPropagation();
    wanted();
  };

  return (
    <div className="mb-1">
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        tabIndex={0}
        role="slider"
        aria-label="Modes of the body"
        aria-valuenow={chosen ?? 0}
        aria-valuemin={0}
        aria-valuemax={modes.length}
        aria-valuetext={inHand ? wordsOf(inHand) : "no mode selected"}
        className="w-full cursor-crosshair touch-none rounded-control border border-line bg-sheet"
        onKeyDown={keys}
        onPointerDown={grab}
        onPointerMove={(event) => move(event, true)}
        onPointerUp={(event) => {
          move(event, false);
          drag.current = null;
        }}
        onDoubleClick={() => {
          if (chosen === null) return;
          const { mute } = changeOf(source, chosen);
          change(chosen, mute ? "heard" : "muted", { mute: !mute }, "mute", false);
        }}
      >
        {[100, 1000, 10000].map((hz) => (
          <g key={hz}>
            <line x1={xOf(hz)} x2={xOf(hz)} y1={0} y2={HEIGHT} stroke="var(--line)" />
            <text x={xOf(hz) + 2} y={10} fontSize={9} fill="var(--ink-2)">
              {hz < 1000 ? `${hz} Hz` : `${hz / 1000} kHz`}
            </text>
          </g>
        ))}
        {modes.map((one) => {
          const high = heightOf(one.level_db);
          const changed = source.changes.some(({ mode }) => mode === one.mode);
          const width = 1.4 + 1.2 * Math.max(0, Math.min(2.5, Math.log10(one.decay_s * 30)));
          const colour = one.mode === chosen ? "var(--action)" : "var(--ink)";
          return (
            <g key={one.mode} opacity={one.heard ? 1 : 0.3}>
              <line
                x1={xOf(one.hz)}
                x2={xOf(one.hz)}
                y1={HEIGHT}
                y2={HEIGHT - high}
                stroke={colour}
                strokeWidth={width}
                strokeDasharray={one.heard ? undefined : "2 2"}
              />
              {changed && <circle cx={xOf(one.hz)} cy={HEIGHT - high - 3} r={2} fill={colour} />}
            </g>
          );
        })}
      </svg>
      <div className="mt-0.5 flex min-h-6 items-center justify-between text-[11px] text-ink-2">
        <span className="figure">{inHand ? wordsOf(inHand) : "Drag a mode: tune, louder"}</span>
        {source.changes.length > 0 && (
          <button
            type="button"
            className="min-h-6 rounded-sm px-1 text-action hover:bg-band"
            onClick={() =>
              onChange(
                `${owner}: modes reset`,
                { changes: [] },
                { gesture: "modes", moving: false },
              )
            }
          >
            Reset
          </button>
        )}
      </div>
      {chosen !== null && (
        <PartFields
          owner={`${owner} mode ${chosen}`}
          declaration={declarations.mode_change}
          part={changeOf(source, chosen)}
          only={["shift_cent", "level_db", "ring"]}
          partId={layerId}
          path={`source.mode${chosen}.`}
          onChange={(label, patch, how) =>
            onChange(label, { changes: withMode(source, chosen, patch) }, how)
          }
        />
      )}
    </div>
  );
}

const wordsOf = ({ mode, hz, level_db, decay_s, heard }: LookedMode) =>
  `${mode}: ${formatValue(hz, "Hz")}, ${formatValue(level_db, "dB")}, rings ${formatValue(decay_s, "s")}${heard ? "" : ", muted"}`;
