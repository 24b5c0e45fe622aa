import type { Curve } from "../../api";
import { formatValue, hzToNote, noteName } from "../../ui";
import type { curveAxis } from "./curveAxis";

/** What a curve's semitones are in Hz, and the note nearest to it. */
export const pitchWords = (baseHz: number, st: number) => {
  const hz = baseHz * 2 ** (st / 12);
  const note = Math.round(hzToNote(hz));
  return `${formatValue(hz, "Hz")}${note >= 0 && note <= 127 ? ` ${noteName(note)}` : ""}`;
};

interface HoldMarkProps {
  curve: Curve;
  x: (timeS: number) => number;
  holdS: number;
  height: number;
}

/** The end of the hold where the curve has a release part, and the loop while held. */
export function HoldMark({ curve, x, holdS, height }: HoldMarkProps) {
  const loop = curve.loop && {
    from: curve.points[curve.loop.start]?.time_s ?? 0,
    to: curve.points[curve.loop.end]?.time_s ?? 0,
  };
  return (
    <g className="pointer-events-none">
      {loop && (
        <>
          <rect
            x={x(loop.from)}
            width={Math.max(1, x(loop.to) - x(loop.from))}
            y={0}
            height={height}
            fill="var(--action)"
            opacity={0.08}
          />
          <text x={x(loop.from) + 3} y={10} fontSize={10} fill="var(--ink-2)">
            loop
          </text>
        </>
      )}
      {curve.release.length > 0 && (
        <>
          <line
            x1={x(holdS)}
            x2={x(holdS)}
            y1={0}
            y2={height}
            stroke="var(--action)"
            strokeDasharray="1 3"
          />
          <text x={x(holdS) + 3} y={10} fontSize={10} fill="var(--ink-2)">
            release
          </text>
        </>
      )}
    </g>
  );
}

interface PitchLinesProps {
  axis: ReturnType<typeof curveAxis>;
  width: number;
  baseHz: number | null;
}

/** Lines each octave from the layer's own pitch, with what they are in Hz. */
export function PitchLines({ axis, width, baseHz }: PitchLinesProps) {
  const step = axis.high - axis.low > 60 ? 24 : 12;
  const lines: number[] = [];
  for (let st = Math.ceil(axis.low / step) * step; st <= axis.high; st += step) lines.push(st);
  return (
    <g className="pointer-events-none">
      {lines.map((st) => (
        <g key={st}>
          <line
            x1={0}
            x2={width}
            y1={axis.y(st)}
            y2={axis.y(st)}
            stroke="var(--line-strong)"
            strokeDasharray={st === 0 ? undefined : "2 4"}
          />
          <text
            x={width - 6}
            y={axis.y(st) - 3}
            textAnchor="end"
            fontSize={10}
            fill="var(--ink-2)"
            fontFamily="var(--font-mono)"
          >
            {formatValue(st, "st")}
            {baseHz === null ? "" : ` ${pitchWords(baseHz, st)}`}
          </text>
        </g>
      ))}
    </g>
  );
}

interface ZeroLineProps {
  axis: ReturnType<typeof curveAxis>;
  width: number;
}

/** Where a mover moves nothing. */
export function ZeroLine({ axis, width }: ZeroLineProps) {
  return (
    <line
      x1={0}
      x2={width}
      y1={axis.y(0)}
      y2={axis.y(0)}
      stroke="var(--line-strong)"
      strokeDasharray="4 3"
    />
  );
}
