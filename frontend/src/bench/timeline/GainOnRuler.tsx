import { formatValue, type TimeScale } from "../../ui";
import { useBench, stepName } from "../../sound";
import { useLooked } from "../path/inspect";

const SPAN_DB = 24;
const TOP = 30;

/** The gain of the selected processor over the hit, under the same ruler as the waveform. */
export function GainOnRuler({ scale, height }: { scale: TimeScale; height: number }) {
  const looked = useLooked((state) => state.looked);
  const document = useBench((state) => state.document);
  const selected = useBench(({ selection }) =>
    selection.kind === "processor" ? selection.id : null,
  );
  if (!looked || !document || looked.id !== selected || looked.look.gains.length === 0) return null;
  const least = Math.min(...looked.look.gains.flatMap(({ gain_db }) => gain_db));
  const y = (gainDb: number) =>
    TOP + (Math.min(SPAN_DB, Math.max(-6, -gainDb)) / SPAN_DB) * (height - TOP - 8);
  const words = `${stepName(document, looked.id) ?? ""}: gain down to ${formatValue(least, "dB")}`;
  return (
    <>
      <span className="figure pointer-events-none absolute bottom-1.5 left-2 rounded-sm bg-sheet px-1 text-[10.5px] text-warn">
        {words}
      </span>
      <svg
        width={scale.width}
        height={height}
        className="pointer-events-none absolute inset-0"
        role="img"
        aria-label={words}
      >
        <line
          x1={0}
          x2={scale.width}
          y1={y(0)}
          y2={y(0)}
          stroke="var(--warn)"
          strokeDasharray="2 4"
          opacity={0.7}
        />
        {looked.look.gains.map(({ band, time_s, gain_db }) => (
          <path
            key={band}
            d={time_s
              .map(
                (t, n) =>
                  `${n ? "L" : "M"}${scale.x(t).toFixed(1)} ${y(gain_db[n] ?? 0).toFixed(1)}`,
              )
              .join("")}
            fill="none"
            stroke="var(--warn)"
            strokeWidth={1.6}
          />
        ))}
      </svg>
    </>
  );
}
