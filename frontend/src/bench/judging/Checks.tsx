import { X } from "lucide-react";
import { useState } from "react";
import type { Remark } from "../../api";
import { useBench, dismiss, showDismissed, usePins } from "../../sound";
import { ContributionButton } from "./ContributionDialog";
import { applyFix } from "./applyFix";
import { ProbeDialog } from "./ProbeDialog";
import { Repeats } from "./Repeats";

const SIGNS: Record<Remark["severity"], { sign: string; tone: string; words: string }> = {
  good: { sign: "✓", tone: "text-good", words: "good" },
  warn: { sign: "!", tone: "text-warn", words: "look" },
  bad: { sign: "✕", tone: "text-bad", words: "wrong" },
};
const NONE: Remark[] = [];
const NO_KEYS: string[] = [];
const SILENT = ["silent", "silent_layer"];

const keyOf = ({ code, layer }: Remark) => `${code}:${layer ?? ""}`;

/** What the render says about the sound, each with its fix where there is one. */
export function Checks() {
  const remarks = useBench((state) => state.audition?.remarks ?? NONE);
  const soundId = useBench((state) => state.opened?.id ?? 0);
  const dismissed = usePins((state) => state.dismissed[soundId] ?? NO_KEYS);
  const [probing, setProbing] = useState(false);
  const shown = remarks.filter((remark) => !dismissed.includes(keyOf(remark)));
  const hidden = remarks.length - shown.length;
  return (
    <section
      aria-label="Checks"
      className="m-2.5 ml-0 flex w-[300px] shrink-0 flex-col rounded-card border border-line-strong bg-sheet px-3 py-2"
    >
      <div className="mb-0.5 flex flex-wrap items-center gap-x-2">
        <h3 className="text-[12.5px] font-semibold">Checks</h3>
        {hidden > 0 && (
          <button
            type="button"
            className="min-h-6 rounded-sm px-1 text-[11.5px] text-action hover:bg-band"
            onClick={showDismissed}
          >
            {hidden} dismissed: show
          </button>
        )}
        <ContributionButton />
        <Repeats />
      </div>
      <ul className="min-h-0 flex-1 overflow-y-auto">
        {shown.map((remark) => (
          <RemarkRow key={keyOf(remark)} remark={remark} onProbe={() => setProbing(true)} />
        ))}
      </ul>
      <ProbeDialog open={probing} onClose={() => setProbing(false)} />
    </section>
  );
}

function RemarkRow({ remark, onProbe }: { remark: Remark; onProbe: () => void }) {
  const where = useBench(
    (state) => state.document?.layers.find(({ id }) => id === remark.layer)?.name,
  );
  const { sign, tone, words } = SIGNS[remark.severity];
  const button =
    "min-h-6 rounded-control border border-line-strong px-2 text-[12px] whitespace-nowrap text-action hover:bg-band";
  return (
    <li className="flex min-h-6 flex-wrap items-center gap-x-1.5 gap-y-1 text-[12.5px]">
      <span className={`w-3 text-center font-semibold ${tone}`} role="img" aria-label={words}>
        {sign}
      </span>
      <span className="min-w-[150px] flex-1">
        {where ? `${where}: ` : ""}
        {remark.text}
      </span>
      <span className="ml-auto flex flex-wrap items-center justify-end gap-x-1.5 gap-y-1">
        {SILENT.includes(remark.code) && (
          <button type="button" className={button} onClick={onProbe}>
            Why?
          </button>
        )}
        {remark.fixes.map((fix) => (
          <button key={fix.label} type="button" className={button} onClick={() => applyFix(fix)}>
            {fix.label}
          </button>
        ))}
        {remark.severity !== "good" && (
          <button
            type="button"
            aria-label={`Dismiss: ${remark.text}`}
            title="Intended or harmless: dismiss"
            className="grid size-6 place-items-center rounded-sm text-ink-3 hover:bg-band"
            onClick={() => dismiss(keyOf(remark))}
          >
            <X size={12} aria-hidden />
          </button>
        )}
      </span>
    </li>
  );
}
