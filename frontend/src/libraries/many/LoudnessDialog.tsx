import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { Button } from "../../ui/Button";
import { DialogFrame } from "../../ui/DialogFrame";
import { TextField } from "../../ui/TextField";
import { levelText } from "../figures";
import { useSelection } from "../queryStore";
import { PlanFooter, PlanTable } from "./PlanFooter";
import { usePlan } from "./usePlan";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

const numberOf = (text: string) => Number(text.replace("−", "-").replace(/[^\d.-]+/g, "") || NaN);

/** One loudness for all, by gain alone and below a true peak. */
export function LoudnessDialog({ open, onClose, ids }: Props) {
  const [target, setTarget] = useState("-18");
  const [ceiling, setCeiling] = useState("-1");
  const target_lufs = numberOf(target);
  const ceiling_dbtp = numberOf(ceiling);
  const known = Number.isFinite(target_lufs) && Number.isFinite(ceiling_dbtp);
  const chosenId = useSelection((state) => state.chosenId);
  const chosen = useQuery({
    queryKey: ["samples", "one", chosenId],
    enabled: open && chosenId !== null,
    queryFn: () =>
      answered(
        api.GET("/api/samples/{sample_id}", { params: { path: { sample_id: chosenId ?? 0 } } }),
      ),
  });
  const { plan, problem, words, busy, waits, carryOut } = usePlan({
    key: ["loudness", ids, target_lufs, ceiling_dbtp],
    enabled: open && ids.length > 0 && known,
    ask: (apply) =>
      answered(
        api.POST("/api/samples/loudness", { body: { ids, target_lufs, ceiling_dbtp, apply } }),
      ),
    label: `${ids.length} matched in loudness`,
    onDone: onClose,
  });
  return (
    <DialogFrame open={open} onClose={onClose} title={`Match loudness of ${ids.length}`} wide>
      <div className="flex gap-3">
        <TextField
          label="Loudness, LUFS"
          autoFocus
          figure
          className="w-40"
          value={target}
          onChange={(event) => setTarget(event.target.value)}
        />
        <TextField
          label="True peak at most, dBTP"
          figure
          className="w-48"
          value={ceiling}
          onChange={(event) => setCeiling(event.target.value)}
        />
        {chosen.data && (
          <Button
            className="mt-[22px]"
            onClick={() => setTarget((chosen.data?.loudness_lufs ?? 0).toFixed(1))}
          >
            As loud as {chosen.data.name}
          </Button>
        )}
      </div>
      <PlanTable
        heads={["Sample", "Now", "Then", "Gain"]}
        rows={(plan?.rows ?? []).map((row) => [
          row.name,
          levelText(row.from_lufs, ""),
          `${levelText(row.to_lufs, "")}${row.held_back ? " held back by its peak" : ""}`,
          levelText(row.gain_db, "dB"),
        ])}
      />
      <p className="mt-2 text-[12px] text-ink-2">
        {waits
          ? "Measuring…"
          : "The files stay as they are; the gain can be taken back at any time."}
      </p>
      <PlanFooter
        words={known ? words : "Say a loudness and a peak as numbers"}
        verb="Match"
        busy={busy}
        ready={problem === null && plan !== undefined}
        onDo={carryOut}
        onClose={onClose}
      />
    </DialogFrame>
  );
}
