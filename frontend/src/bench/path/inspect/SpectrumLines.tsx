import type { ProcessorLook } from "../../../api";

const SPAN_DB = 72;

interface Props {
  look: ProcessorLook;
  width: number;
  height: number;
  x: (hz: number) => number;
}

/** The sound's own average spectrum before (faint) and after a processor, behind its response. */
export function SpectrumLines({ look, width, height, x }: Props) {
  const top = Math.max(...look.before.spectrum_db, ...look.after.spectrum_db) + 6;
  const y = (level: number) => Math.min(height, ((top - level) / SPAN_DB) * height);
  const points = (levels: number[]) =>
    look.spectrum_hz.map((hz, n) => `${x(hz).toFixed(1)} ${y(levels[n] ?? -200).toFixed(1)}`);
  const after = points(look.after.spectrum_db);
  return (
    <g aria-hidden>
      <path
        d={`M0 ${height}L${after.join("L")}L${width} ${height}Z`}
        fill="var(--action)"
        opacity={0.13}
      />
      <path
        d={`M${points(look.before.spectrum_db).join("L")}`}
        fill="none"
        stroke="var(--ink-3)"
        strokeWidth={1}
        strokeDasharray="2 2"
      />
    </g>
  );
}
