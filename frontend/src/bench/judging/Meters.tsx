import { formatValue } from "../../ui";
import { RegisterButton } from "./RegisterDialog";
import { useBench } from "../../sound";

const BANDS = ["below 120 Hz", "to 500 Hz", "to 2 kHz", "above"];
const SILENT_DB = -120;
const decibels = (value: number) => (value <= SILENT_DB ? "–" : formatValue(value, "dB"));
const level = (value: number, unit: "dBFS" | "dBTP") =>
  value <= SILENT_DB ? "–" : decibels(value).replace("dB", unit);

const lufs = (value: number) => (value <= SILENT_DB ? "–" : `${value.toFixed(1)} LUFS`);

/** What comes out in the end: levels, both sides against each other, and what mono would lose. */
export function Meters() {
  const measures = useBench((state) => state.audition?.measures);
  if (!measures) return null;
  const { stereo } = measures;
  const rows: [string, string, string?][] = [
    ["Peak", level(measures.peak_db, "dBFS"), "The largest sample"],
    [
      "True peak",
      level(measures.true_peak_db, "dBTP"),
      "The largest value, between the samples too",
    ],
    ["Loudness", lufs(measures.loudness_lufs), "Integrated"],
    ["Momentary", lufs(measures.momentary_lufs), "The loudest 400 ms"],
    ["Short-term", lufs(measures.short_term_lufs), "The loudest 3 s, with silence around"],
    ["Crest factor", `${measures.crest_db.toFixed(1)} dB`, "Peak over the mean level"],
    ["Offset", decibels(measures.offset_db), "Mean of the samples: it eats headroom"],
    ["Below 120 Hz", decibels(stereo.low_share_db), "Of the whole"],
  ];
  return (
    <section className="mt-3" aria-label="Meters">
      <dl className="grid grid-cols-[1fr_auto] gap-y-0.5 text-[12px]">
        {rows.map(([name, value, title]) => (
          <div key={name} className="contents" title={title}>
            <dt className="text-ink-2">{name}</dt>
            <dd className="figure text-right">{value}</dd>
          </div>
        ))}
      </dl>
      {measures.channels === 1 ? (
        <p className="mt-1.5 text-[12px] text-ink-2">Mono: both sides are the same.</p>
      ) : (
        <>
          <Correlation value={stereo.correlation} name="Correlation" />
          <Correlation value={stereo.low_correlation} name="below 120 Hz" />
          <p className="mt-1.5 flex justify-between text-[12px]">
            <span className="text-ink-2">Low end in mono</span>
            <span className={`figure ${stereo.mono_loss_db < -1 ? "text-warn" : ""}`}>
              {stereo.mono_loss_db > -0.05 ? "no loss" : formatValue(stereo.mono_loss_db, "dB")}
            </span>
          </p>
          <p className="mt-1.5 text-[12px] text-ink-2">Sides relative to middle</p>
          <ul className="mt-0.5 grid grid-cols-4 gap-1.5">
            {stereo.side_db.map((level, n) => (
              <SideBar key={BANDS[n]} name={BANDS[n] ?? ""} level={level} />
            ))}
          </ul>
        </>
      )}
      <RegisterButton />
    </section>
  );
}

/** From -1 (opposite) to 1 (the same), as a mark on a line. */
function Correlation({ value, name }: { value: number; name: string }) {
  return (
    <div className="mt-1 grid grid-cols-[88px_1fr_40px] items-center gap-2 text-[12px]">
      <span className="text-ink-2">{name}</span>
      <span className="relative h-1.5 rounded-full bg-line" aria-hidden>
        <span className="absolute top-0 left-1/2 h-full w-px bg-ink-3" />
        <span
          className={`absolute -top-0.5 size-2.5 -translate-x-1/2 rounded-full ${value < 0 ? "bg-warn" : "bg-action"}`}
          style={{ left: `${50 * (1 + value)}%` }}
        />
      </span>
      <span className="figure text-right">{value.toFixed(2)}</span>
    </div>
  );
}

const FLOOR_DB = -48;

function SideBar({ name, level }: { name: string; level: number }) {
  const share = Math.max(0, Math.min(1, 1 - level / FLOOR_DB));
  return (
    <li title={`${name}: ${decibels(level)}`}>
      <span className="flex h-9 items-end rounded-sm bg-band" aria-hidden>
        <span className="block w-full rounded-sm bg-action" style={{ height: `${share * 100}%` }} />
      </span>
      <span className="figure block text-center text-[10px]">{decibels(level)}</span>
      <span className="block text-center text-[10px] text-ink-2">{name}</span>
    </li>
  );
}
