import { useState } from "react";
import { answered, api } from "../../api/client";
import { DialogFrame } from "../../ui/DialogFrame";
import { TextField } from "../../ui/TextField";
import { lengthText } from "../figures";
import { PlanFooter, PlanTable } from "./PlanFooter";
import { usePlan } from "./usePlan";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

/** Silence before and behind left out, and fades; the files stay as they are. */
export function TrimDialog({ open, onClose, ids }: Props) {
  const [fadeIn, setFadeIn] = useState("0");
  const [fadeOut, setFadeOut] = useState("10");
  const [fade_in_s, fade_out_s] = [fadeIn, fadeOut].map((ms) => parseFloat(ms) / 1000) as [
    number,
    number,
  ];
  const known = [fade_in_s, fade_out_s].every((one) => one >= 0);
  const { plan, problem, words, busy, waits, carryOut } = usePlan({
    key: ["trim", ids, fade_in_s, fade_out_s],
    enabled: open && ids.length > 0 && known,
    ask: (apply) =>
      answered(api.POST("/api/samples/trim", { body: { ids, fade_in_s, fade_out_s, apply } })),
    label: `${ids.length} trimmed`,
    onDone: onClose,
  });
  return (
    <DialogFrame open={open} onClose={onClose} title={`Trim silence of ${ids.length}`} wide>
      <div className="flex gap-3">
        <TextField
          label="Fade in, ms"
          figure
          className="w-32"
          value={fadeIn}
          onChange={(event) => setFadeIn(event.target.value)}
        />
        <TextField
          label="Fade out, ms"
          figure
          className="w-32"
          value={fadeOut}
          onChange={(event) => setFadeOut(event.target.value)}
        />
      </div>
      <PlanTable
        heads={["Sample", "Starts at", "Ends at"]}
        rows={(plan?.rows ?? []).map((row) => [
          row.name,
          lengthText(row.start_s),
          row.end_s ? lengthText(row.end_s) : "its end",
        ])}
      />
      <p className="mt-2 text-[12px] text-ink-2">
        {waits ? "Looking for silence…" : "Silence is what lies 72 dB below the peak."}
      </p>
      <PlanFooter
        words={known ? words : "Say the fades in milliseconds"}
        verb="Trim"
        busy={busy}
        ready={problem === null && plan !== undefined}
        onDo={carryOut}
        onClose={onClose}
      />
    </DialogFrame>
  );
}
