import { Play } from "lucide-react";
import { useState } from "react";
import { playUrl } from "../../audio/player";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { DialogFrame } from "../../ui/DialogFrame";
import { ProgressLine } from "../../ui/ProgressLine";
import { levelText } from "../figures";
import { PlanTable } from "./PlanFooter";
import { likenessWords, noteChange } from "./rerenderWords";
import { type Row, useRerender } from "./useRerender";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

const RATES = [
  ["", "its own rate"],
  ["44100", "44.1 kHz"],
  ["48000", "48 kHz"],
  ["96000", "96 kHz"],
  ["192000", "192 kHz"],
] as const;
const WHICH = [
  ["same", "the revision that made it"],
  ["newest", "the newest revision"],
] as const;

/** Samples rendered again from their sounds: heard and compared first, then put in their place. */
export function RerenderDialog({ open, onClose, ids }: Props) {
  const [rate, setRate] = useState<(typeof RATES)[number][0]>("");
  const [which, setWhich] = useState<"same" | "newest">("newest");
  const { rows, problem, progress, preview, replace, stop, forget } = useRerender(ids);
  const wanted = { sample_rate: rate === "" ? null : Number(rate), newest: which === "newest" };
  const changed = rows.filter(({ preview: one }) => one && !one.same).length;
  const close = () => {
    stop();
    forget();
    onClose();
  };
  const ask = <Value,>(put: (value: Value) => void) => {
    return (value: Value) => {
      put(value);
      forget();
    };
  };
  return (
    <DialogFrame open={open} onClose={close} title={`Render ${ids.length} again`} wide>
      <div className="flex items-end gap-3">
        <Choice label="Of" value={which} options={WHICH} onChange={ask(setWhich)} />
        <Choice label="At" value={rate} options={RATES} onChange={ask(setRate)} />
        <Button onClick={() => void preview(wanted)} disabled={progress !== null}>
          Hear and compare
        </Button>
      </div>
      <PlanTable
        heads={["Sample", "Revision", "Loudness", "Note", "Beside it now"]}
        rows={rows.map(cellsOf)}
      />
      {problem && (
        <p role="alert" className="mt-3 text-bad">
          {problem}
        </p>
      )}
      <div className="mt-4 flex items-center justify-end gap-2">
        {progress && (
          <div className="mr-auto min-w-0 flex-1">
            <ProgressLine verb={progress.verb} work={progress} onStop={stop} />
          </div>
        )}
        <Button onClick={close}>Cancel</Button>
        <Button
          look="action"
          disabled={progress !== null || changed === 0}
          // What could not be done is told here, not behind a dialog that has gone.
          onClick={() => void replace(wanted).then((all) => all && close())}
        >
          Replace {changed}
        </Button>
      </div>
    </DialogFrame>
  );
}

function cellsOf({ id, preview, words }: Row): React.ReactNode[] {
  if (!preview) return ["", "", "", "", words];
  const { name, digest, revision, before, after } = preview;
  return [
    <span key="play" className="flex items-center">
      <Button
        look="quiet"
        className="-ml-2"
        aria-label={`Play the new render of ${name}`}
        onClick={() => void playUrl(`/api/auditions/${digest}.wav`, `new-${id}`)}
      >
        <Play size={13} aria-hidden />
      </Button>
      <span className="max-w-36 truncate" title={name}>
        {name}
      </span>
    </span>,
    revision,
    <span key="loudness" className="whitespace-nowrap">
      {levelText(before.loudness_lufs, "").trim()} → {levelText(after.loudness_lufs, "").trim()}
    </span>,
    <span key="note" className="whitespace-nowrap">
      {noteChange(before, after)}
    </span>,
    <span key="likeness" className="font-sans whitespace-nowrap">
      {likenessWords(preview)}
    </span>,
  ];
}
