import { useState } from "react";
import { resultOf, api } from "../../api";
import { TextField, typedOr } from "../../ui";
import { lengthText } from "../common";
import { PlanDialog } from "./PlanDialog";
import { usePlan } from "./usePlan";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

/** Silence before and behind left out, and fades; the files stay as they are. */
export function TrimDialog({ open, onClose, ids }: Props) {
  const [fadeIn, setFadeIn] = useState("0 ms");
  const [fadeOut, setFadeOut] = useState("10 ms");
  const [fade_in_s, fade_out_s] = [typedOr(fadeIn, "s", NaN), typedOr(fadeOut, "s", NaN)];
  const known = [fade_in_s, fade_out_s].every((one) => one >= 0);
  const planned = usePlan({
    key: ["trim", ids, fade_in_s, fade_out_s],
    enabled: open && ids.length > 0 && known,
    ask: (apply, headers) => {
      const body = { ids, fade_in_s, fade_out_s, apply };
      return resultOf(api.POST("/api/samples/trim", { body, headers }));
    },
    label: `${ids.length} trimmed`,
    onDone: onClose,
  });
  return (
    <PlanDialog
      open={open}
      onClose={onClose}
      title={`Trim silence of ${ids.length}`}
      heads={["Sample", "Starts at", "Ends at"]}
      rows={(planned.plan?.rows ?? []).map((row) => [
        row.name,
        lengthText(row.start_s),
        row.end_s ? lengthText(row.end_s) : "its end",
      ])}
      hint="Silence is anything 72 dB below the peak. The files are not changed."
      wrong={known ? null : "Type fades like 10 ms or 0.2 s"}
      verb="Trim"
      doing="Looking for silence"
      planned={planned}
    >
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
    </PlanDialog>
  );
}
