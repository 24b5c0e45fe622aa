import type { Processor, ProcessorLook } from "../../../api";
import { formatValue } from "../../../ui";
import { withProcessor, processorName, edit, useBench } from "../../../sound";
import { useLooked } from "./useLook";

const SILENT_DB = -120;
const shown = (value: number | null, unit = "dB") =>
  value === null || value <= SILENT_DB ? "–" : `${value.toFixed(1)} ${unit}`;

interface Row {
  name: string;
  title: string;
  of: (figures: ProcessorLook["before"]) => number | null;
  unit?: string;
}

const ROWS: Row[] = [
  { name: "Peak", title: "Largest sample", of: (one) => one.peak_db },
  { name: "True peak", title: "Between the samples too", of: (one) => one.true_peak_db },
  { name: "Loudness", title: "Integrated loudness", of: (one) => one.loudness_lufs, unit: "LUFS" },
  {
    name: "Attack over body",
    title: "Peak of the first 30 ms relative to the level from 60 to 300 ms",
    of: (one) => one.transient_db,
  },
];

/** What goes into a processor and what comes out of it, as numbers, with what follows from them. */
export function LookFigures({ part, look }: { part: Processor; look: ProcessorLook }) {
  const { before, after } = look;
  // What was measured of an earlier state is no ground for a change of this one.
  const document = useBench((state) => state.document);
  const current = useLooked((state) => state.looked?.document === document);
  const louder = after.loudness_lufs - before.loudness_lufs;
  const canRestore =
    part.on &&
    Math.min(after.loudness_lufs, before.loudness_lufs) > SILENT_DB &&
    Math.abs(louder) >= 0.1;
  const restore = () => {
    const name = processorName(part.kind);
    const levelDb = Math.max(-48, Math.min(24, Math.round(10 * (part.level_db - louder)) / 10));
    edit(`${name}: Output level ${formatValue(levelDb, "dB")}, as loud as before`, (sound) =>
      withProcessor(sound, part.id, (now) => ({ ...now, level_db: levelDb })),
    );
  };
  return (
    <div className="mt-2">
      <table className="w-full text-[11.5px]" aria-label="Levels before and after">
        <thead>
          <tr className="text-left text-ink-2">
            <td />
            <th className="text-right font-normal">in</th>
            <th className="text-right font-normal">out</th>
          </tr>
        </thead>
        <tbody>
          {ROWS.map(({ name, title, of, unit }) => (
            <tr key={name} title={title}>
              <th className="text-left font-normal text-ink-2">{name}</th>
              <td className="figure text-right">{shown(of(before), unit)}</td>
              <td className="figure text-right">{shown(of(after), unit)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {canRestore && !part.keep_loudness && (
        <button
          type="button"
          disabled={!current}
          className="mt-1 min-h-6 rounded-control border border-line-strong px-2 text-[12px] text-action hover:bg-band"
          onClick={restore}
        >
          Restore loudness ({louder > 0 ? "−" : "+"}
          {Math.abs(louder).toFixed(1)} dB)
        </button>
      )}
      <Words part={part} look={look} />
    </div>
  );
}

const LOST_HIT_DB = 3;
const LOW_TAIL_DB = -12;
const TAMING: Processor["kind"][] = ["compressor", "multiband", "ceiling", "drive", "gate"];
const TAILED: Processor["kind"][] = ["room", "shimmer", "convolution", "delay", "pitch_delay"];

/** What a designer should know about this step. */
function Words({ part, look }: { part: Processor; look: ProcessorLook }) {
  const words: { line: string; warn: boolean }[] = [];
  const say = (line: string, warn = true) => words.push({ line, warn });
  if (part.on && look.change_db < 0.1) say("No effect at these settings.");
  const { before, after } = look;
  if (TAMING.includes(part.kind) && before.transient_db !== null && after.transient_db !== null) {
    const lost = before.transient_db - after.transient_db;
    if (lost > LOST_HIT_DB) say(`Reduces the attack by ${lost.toFixed(1)} dB. ${attackHint(part)}`);
  }
  if (TAILED.includes(part.kind) && part.on && after.low_tail_db > SILENT_DB) {
    const low = after.low_tail_db;
    const muddy = low > LOW_TAIL_DB;
    const hint = muddy ? ": raise the low cut" : "";
    say(`Below 150 Hz: ${low.toFixed(0)} dB of the tail${hint}.`, muddy);
  }
  if (words.length === 0) return null;
  return (
    <ul className="mt-1 text-[12px]">
      {words.map(({ line, warn }) => (
        <li key={line} className={warn ? "text-warn" : "text-ink-2"}>
          {line}
        </li>
      ))}
    </ul>
  );
}

function attackHint(part: Processor): string {
  if (part.kind !== "compressor" || part.attack_s >= 0.03) return "";
  return `An attack longer than ${formatValue(part.attack_s, "s")} keeps more of it.`;
}
