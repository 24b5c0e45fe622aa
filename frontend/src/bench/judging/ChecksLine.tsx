import { ChevronDown } from "lucide-react";
import { CHECKS_LINE, toggleChecks, useChecksOpen, useRemarks } from "./checksStore";
import { SIGNS } from "./signs";

/** The worst of what the checks found, and how many there are; opens the list. */
export function ChecksLine() {
  const { shown } = useRemarks();
  const open = useChecksOpen((state) => state.open);
  const worst = shown[0];
  const wrong = shown.filter(({ severity }) => severity !== "good").length;
  const { sign, tone } = SIGNS[worst?.severity ?? "good"];
  const words = wrong > 0 && worst ? worst.text : "All good";
  const count = wrong > 0 ? `${wrong} of ${shown.length} checks` : `${shown.length} checks`;
  return (
    <button
      type="button"
      id={CHECKS_LINE}
      aria-expanded={open}
      aria-label={`Checks: ${words}, ${count}`}
      title={words}
      onClick={toggleChecks}
      className={`inline-flex min-h-6 min-w-0 items-center gap-1.5 rounded-control border bg-sheet px-2 text-[12px] hover:bg-band ${wrong > 0 ? "border-warn" : "border-line-strong"}`}
    >
      <span aria-hidden className={`font-semibold ${tone}`}>
        {sign}
      </span>
      <span className="max-w-[250px] truncate max-[1100px]:max-w-[120px]">{words}</span>
      <span className="shrink-0 text-[11px] text-ink-2">{count}</span>
      <ChevronDown size={12} aria-hidden className={`shrink-0 ${open ? "rotate-180" : ""}`} />
    </button>
  );
}
