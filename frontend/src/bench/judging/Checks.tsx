import { X } from "lucide-react";
import { useState } from "react";
import type { Remark } from "../../api";
import { dismiss, showDismissed, useBench } from "../../sound";
import { applyFix } from "./applyFix";
import { CHECKS_LINE, closeChecks, keyOf, useChecksOpen, useRemarks } from "./checksStore";
import { ContributionButton } from "./ContributionDialog";
import { ProbeDialog } from "./ProbeDialog";
import { Repeats } from "./Repeats";
import { SIGNS } from "./signs";

const SILENT = ["silent", "silent_layer"];

/** What the render says about the sound, each with its fix where there is one; over the inspector. */
export function Checks() {
  const open = useChecksOpen((state) => state.open);
  return open ? <ChecksList /> : null;
}

function ChecksList() {
  const { shown, hidden } = useRemarks();
  const [probing, setProbing] = useState(false);
  const leave = () => {
    closeChecks();
    document.getElementById(CHECKS_LINE)?.focus();
  };
  const keys = (event: React.KeyboardEvent) => {
    if (event.key === "Escape") leave();
  };
  return (
    <section
      aria-label="Checks"
      onKeyDown={keys}
      className="absolute inset-0 z-20 flex flex-col border-l border-line-strong bg-sheet px-3.5 py-3"
    >
      <div className="mb-1 flex flex-wrap items-center gap-x-2">
        <h2 className="font-title text-[16px] font-semibold">Checks</h2>
        {hidden > 0 && (
          <button
            type="button"
            className="min-h-6 rounded-sm px-1 text-[11.5px] text-action hover:bg-band"
            onClick={showDismissed}
          >
            {hidden} dismissed: show
          </button>
        )}
        <button
          type="button"
          autoFocus
          aria-label="Close checks"
          className="ml-auto grid size-6 place-items-center rounded-sm text-ink-2 hover:bg-band"
          onClick={leave}
        >
          <X size={14} aria-hidden />
        </button>
      </div>
      <div className="mb-1 flex flex-wrap items-center gap-x-2 border-b border-line pb-1">
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
    <li className="flex min-h-7 flex-wrap items-center gap-x-1.5 gap-y-1 border-b border-line py-1 text-[12.5px]">
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
