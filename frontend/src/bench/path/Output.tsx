import { Power, Scale } from "lucide-react";
import type { Sound } from "../../api";
import { select, toggleEffects, toggleMatching, useBench } from "../../sound";
import { formatValue } from "../../ui";
import { useRouteDrop } from "./dropRoute";
import { shownLevel } from "./ProcessorCard";

const SWITCH =
  "inline-flex min-h-6 items-center gap-1 rounded-sm px-1 text-[11px] whitespace-nowrap";

/** The output, always in sight: its figures, and all effects switched off and on. */
export function Output({ sound }: { sound: Sound }) {
  const selected = useBench(({ selection }) => selection.kind === "main");
  const measures = useBench((state) => state.audition?.measures);
  const dry = useBench((state) => state.effectsOff);
  const matching = useBench((state) => state.matchSwitched);
  const { over, handlers } = useRouteDrop("output");
  const border = over ? "border-action" : selected ? "border-ink" : "border-line-strong";
  const rows = [
    ["level", formatValue(sound.main.level_db, "dB")],
    ["peak", shownLevel(measures?.peak_db)],
    ["true peak", shownLevel(measures?.true_peak_db)],
    ["loudness", measures ? `${measures.loudness_lufs.toFixed(1)} LUFS` : ""],
  ] as const;
  return (
    <div
      {...handlers}
      className={`m-2 ml-0 flex w-[148px] shrink-0 flex-col overflow-hidden rounded-card border bg-sheet px-2 py-1 ${border}`}
    >
      <button
        type="button"
        onClick={() => select({ kind: "main" })}
        className="min-h-6 shrink-0 text-left"
      >
        <span className="block font-semibold">Output</span>
        {rows.map(([name, value]) => (
          <span key={name} className="flex justify-between text-[10.5px] leading-[15px] text-ink-2">
            {name} <span className="figure">{value}</span>
          </span>
        ))}
      </button>
      <span className="flex-1" />
      <button
        type="button"
        aria-pressed={dry}
        title="Bypass all effects (Shift B)"
        onClick={toggleEffects}
        className={`${SWITCH} ${dry ? "bg-warn text-sheet" : "hover:bg-band"}`}
      >
        <Power size={12} aria-hidden /> Bypass effects
      </button>
      <button
        type="button"
        aria-pressed={matching}
        title="Bypassed and active states play at the same loudness"
        onClick={toggleMatching}
        className={`${SWITCH} ${matching ? "bg-action text-sheet" : "hover:bg-band"}`}
      >
        <Scale size={12} aria-hidden /> Level-matched
      </button>
    </div>
  );
}
