import { useState } from "react";
import { errorText, useJobActions } from "../../api";
import { Choice, DialogFrame } from "../../ui";
import { openWork } from "../work";
import { PlanFooter } from "./PlanFooter";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

const RATES = [
  ["", "original rate"],
  ["44100", "44.1 kHz"],
  ["48000", "48 kHz"],
  ["96000", "96 kHz"],
  ["192000", "192 kHz"],
] as const;
const WHICH = [
  ["same", "the original revision"],
  ["newest", "the newest revision"],
] as const;

/** What samples shall be rendered from; then they are, beside what they are now. */
export function RerenderDialog({ open, onClose, ids }: Props) {
  const [rate, setRate] = useState<(typeof RATES)[number][0]>("");
  const [which, setWhich] = useState<"same" | "newest">("newest");
  const [state, setState] = useState<{ busy: boolean; words: string | null }>({
    busy: false,
    words: null,
  });
  const { rerender } = useJobActions();
  const begin = async () => {
    setState({ busy: true, words: null });
    try {
      const sample_rate = rate === "" ? null : Number(rate);
      const job = await rerender({ ids, sample_rate, newest: which === "newest" });
      setState({ busy: false, words: null });
      onClose();
      openWork(job.id);
    } catch (error) {
      setState({ busy: false, words: errorText(error) });
    }
  };
  return (
    <DialogFrame open={open} onClose={onClose} title={`Render ${ids.length} again`}>
      <div className="flex items-end gap-3">
        <Choice label="Of" value={which} options={WHICH} onChange={setWhich} />
        <Choice label="At" value={rate} options={RATES} onChange={setRate} />
      </div>
      <p className="mt-3 text-[12.5px] text-ink-2">
        New versions are rendered beside the old ones. Nothing is replaced until you have compared
        them and confirmed; you can keep working meanwhile.
      </p>
      <PlanFooter
        words={state.words}
        verb="Render and compare"
        busy={state.busy}
        ready={ids.length > 0}
        onDo={() => void begin()}
        onClose={onClose}
      />
    </DialogFrame>
  );
}
