import type { Layer } from "../../api";
import { centsText, formatValue, type TimeScale } from "../../ui";
import { useBench, type LayerCurve, editCurve } from "../../sound";
import { decayScaled } from "./curveTools";
import { followPointer } from "./followPointer";

interface Props {
  layer: Layer;
  curveName: LayerCurve;
  scale: TimeScale;
  height: number;
}

const FALLS = ["−20", "−40", "−60"] as const;

/** What was measured of a layer: where its level has gone down, where its pitch lands. */
export function CurveMarks({ layer, curveName, scale, height }: Props) {
  const found = useBench((state) => state.details?.layers[layer.id]);
  if (!found) return null;
  if (curveName === "pitch") {
    return (
      found.landing_hz !== null && (
        <p className="figure pointer-events-none absolute bottom-1 left-2 text-[10.5px] text-ink-2">
          lands at {formatValue(found.landing_hz, "Hz")} {found.note} {centsText(found.cents ?? 0)}
        </p>
      )
    );
  }
  if (!found.ringing) return null;
  const { loudest_s, falls_s } = found.ringing;
  return (
    <>
      {falls_s.map((timeS, n) => {
        const before = falls_s[n + 1];
        const crowded = before !== undefined && scale.x(before) - scale.x(timeS) < 30;
        return (
          <FallMark
            key={FALLS[n]}
            layer={layer}
            label={FALLS[n] ?? ""}
            hidden={crowded}
            timeS={timeS}
            loudestS={loudest_s}
            scale={scale}
            height={height}
          />
        );
      })}
    </>
  );
}

interface FallMarkProps {
  layer: Layer;
  label: string;
  hidden: boolean;
  timeS: number;
  loudestS: number;
  scale: TimeScale;
  height: number;
}

/** A mark where the level passes so many dB; pulled, it makes the decay under it longer or shorter. */
function FallMark({ layer, label, hidden, timeS, loudestS, scale, height }: FallMarkProps) {
  const x = scale.x(timeS);
  if (x < 0 || x > scale.width) return null;
  const { document } = useBench.getState();
  const holdS = document?.hit.hold_s ?? 0;
  const part = layer.level.release.length > 0 && timeS > holdS ? "release" : "points";
  const startS = part === "release" ? holdS : loudestS;
  const stretch = (toS: number, gesture: string, moving: boolean) => {
    const factor = Math.min(20, Math.max(0.05, (toS - startS) / Math.max(1e-4, timeS - startS)));
    const now = useBench.getState().document;
    if (now)
      editCurve(
        now,
        { layerId: layer.id, name: "level" },
        `${label} dB at ${formatValue(toS, "s")}`,
        () => decayScaled(layer.level, part, factor),
        { gesture, moving },
      );
  };
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={`${layer.name} ${label} dB`}
      aria-valuenow={timeS}
      aria-valuetext={formatValue(timeS, "s")}
      title={`${label} dB after ${formatValue(timeS, "s")}. Pull to change the decay`}
      className="group/fall absolute bottom-0 flex w-6 -translate-x-1/2 cursor-ew-resize flex-col items-center"
      style={{ left: x, height: 24 }}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.stopPropagation();
        const gesture = `fall-${layer.id}-${label}@${event.timeStamp}`;
        let toS = timeS;
        followPointer(event, {
          move: (dx) => {
            toS = Math.max(startS + 0.001, scale.time(x + dx));
            stretch(toS, gesture, true);
          },
          end: (moved) => moved && stretch(toS, gesture, false),
        });
      }}
      onKeyDown={(event) => {
        const direction = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        if (direction === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        const size = event.shiftKey ? 0.2 : event.altKey ? 0.005 : 0.05;
        stretch(startS + (timeS - startS) * (1 + direction * size), `fall-${timeS}`, false);
      }}
    >
      <span
        className={`figure rounded-sm bg-sheet px-0.5 text-[9.5px] leading-3 text-ink-2 ${hidden ? "invisible group-hover/fall:visible group-focus/fall:visible" : ""}`}
      >
        {label}
      </span>
      <span className="h-2.5 w-px bg-ink-2" style={{ maxHeight: height }} />
    </span>
  );
}
