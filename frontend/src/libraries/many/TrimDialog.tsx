import { useState } from "react";
import { answered, api } from "../../api/client";
import { DialogFrame } from "../../ui/DialogFrame";
import { TextField } from "../../ui/TextField";
import { parseValue } from "../../ui/units";
import { lengthText } from "../figures";
import { PlanFooter, PlanTable } from "./PlanFooter";
import { usePlan } from "./usePlan";

/** Typed seconds, milliseconds where no unit is said; NaN where it is no time. */
const secondsOf = (text: string) => {
  const read = parseValue(text, "s", { tempoBpm: 120 });
  return read.ok ? read.value : NaN;
};

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

/** Silence before and behind left out, and fades; the files stay as they are. */
export function TrimDialog({ open, onClose, ids }: Props) {
  const [fadeIn, setFadeIn] = useState("0 ms");
  const [fadeOut, setFadeOut] = useState("10 ms");
  const [fade_in_s, fade_out_s] = [secondsOf(fadeIn), secondsOf(fadeOut)];
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
          label="Fade in"
          figure
          className="w-32"
          value={fadeIn}
          onChange={(event) => setFadeIn(event.target.value)}
        />
        <TextField
          label="Fade out"
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
        words={known ? words : "Say the fades like 10 ms or 0.2 s"}
        verb="Trim"
        busy={busy}
        ready={problem === null && plan !== undefined}
        onDo={carryOut}
        onClose={onClose}
      />
    </DialogFrame>
  );
}
