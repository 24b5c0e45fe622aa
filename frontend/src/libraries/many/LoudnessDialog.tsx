import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { oneSample, resultOf, api } from "../../api";
import { Button, TextField, typedOr } from "../../ui";
import { levelText, useSelection } from "../common";
import { PlanDialog } from "./PlanDialog";
import { usePlan } from "./usePlan";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

/** A level with or without its unit; NaN where it is none. */
const levelOf = (text: string) => typedOr(text.replace(/(lufs|lu|dbtp)\s*$/i, ""), "dB", NaN);

/** One loudness for all, by gain alone and below a true peak. */
export function LoudnessDialog({ open, onClose, ids }: Props) {
  const [target, setTarget] = useState("−18 LUFS");
  const [ceiling, setCeiling] = useState("−1 dBTP");
  const [target_lufs, ceiling_dbtp] = [levelOf(target), levelOf(ceiling)];
  const known = Number.isFinite(target_lufs) && Number.isFinite(ceiling_dbtp);
  const modelId = useSelection((state) => state.chosenId) ?? ids[0] ?? null;
  const chosen = useQuery({ ...oneSample(modelId), enabled: open && modelId !== null }).data;
  const planned = usePlan({
    key: ["loudness", ids, target_lufs, ceiling_dbtp],
    enabled: open && ids.length > 0 && known,
    ask: (apply, headers) => {
      const body = { ids, target_lufs, ceiling_dbtp, apply };
      return resultOf(api.POST("/api/samples/loudness", { body, headers }));
    },
    label: `${ids.length} matched in loudness`,
    onDone: onClose,
  });
  return (
    <PlanDialog
      open={open}
      onClose={onClose}
      title={`Match loudness of ${ids.length}`}
      heads={["Sample", "Now", "Then", "Gain"]}
      rows={(planned.plan?.rows ?? []).map((row) => [
        row.name,
        levelText(row.from_lufs, ""),
        `${levelText(row.to_lufs, "")}${row.held_back ? " limited by its peak" : ""}`,
        levelText(row.gain_db, "dB"),
      ])}
      hint="The files are not changed; the gain can be undone at any time."
      wrong={known ? null : "Type a loudness like −18 LUFS and a peak like −1 dBTP"}
      verb="Match"
      doing="Measuring"
      planned={planned}
    >
      <div className="flex gap-3">
        <TextField
          label="Loudness"
          autoFocus
          figure
          className="w-36"
          value={target}
          onChange={(event) => setTarget(event.target.value)}
        />
        <TextField
          label="Maximum true peak"
          figure
          className="w-36"
          value={ceiling}
          onChange={(event) => setCeiling(event.target.value)}
        />
        {chosen && (
          <Button
            className="mt-[22px] min-w-0"
            onClick={() => setTarget(levelText(chosen.loudness_lufs, "LUFS"))}
          >
            <span className="truncate">Same loudness as {chosen.name}</span>
          </Button>
        )}
      </div>
    </PlanDialog>
  );
}
