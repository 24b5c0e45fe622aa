import { Play } from "lucide-react";
import { useRef, useState } from "react";
import { said, useRefreshSamples } from "../../api/catalogue";
import { answered, api } from "../../api/client";
import type { components } from "../../api/generated/schema";
import { playUrl } from "../../audio/player";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { DialogFrame } from "../../ui/DialogFrame";
import { ProgressLine } from "../../ui/ProgressLine";
import { levelText, noteText } from "../figures";
import { offerUndo } from "../queryStore";
import { PlanTable } from "./PlanFooter";

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

type Preview = components["schemas"]["RerenderBody"];
type Row = { id: number; preview: Preview | null; words: string | null };

const likenessWords = (preview: Preview) =>
  preview.same
    ? "the same samples"
    : preview.likeness < 0.3
      ? "hardly to be told apart"
      : preview.likeness < 1.5
        ? "much alike"
        : "other";

/** Samples rendered again from their sounds: heard and compared first, then put in their place. */
export function RerenderDialog({ open, onClose, ids }: Props) {
  const refresh = useRefreshSamples();
  const [rate, setRate] = useState<(typeof RATES)[number][0]>("");
  const [which, setWhich] = useState<"same" | "newest">("newest");
  const [rows, setRows] = useState<Row[]>([]);
  const [progress, setProgress] = useState<{
    verb: string;
    done: number;
    of: number;
    seconds: number;
  } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const stopped = useRef(false);
  const body = {
    sample_rate: rate === "" ? null : Number(rate),
    newest: which === "newest",
    gesture: null as string | null,
  };

  const each = async (verb: string, work: (id: number) => Promise<void>) => {
    stopped.current = false;
    const began = Date.now();
    for (const [done, id] of ids.entries()) {
      if (stopped.current) break;
      setProgress({ verb, done, of: ids.length, seconds: (Date.now() - began) / 1000 });
      await work(id);
    }
    setProgress(null);
  };
  const preview = async () => {
    setRows([]);
    setProblem(null);
    await each("Rendering", async (id) => {
      const params = { path: { sample_id: id } };
      let row: Row = { id, preview: null, words: null };
      try {
        const request = api.POST("/api/samples/{sample_id}/rerender/preview", { params, body });
        row = { ...row, preview: await answered(request) };
      } catch (error) {
        row = { ...row, words: said(error) };
      }
      setRows((now) => [...now, row]);
    });
  };
  const replace = async () => {
    let gesture: string | null = null;
    let count = 0;
    const failed: string[] = [];
    await each("Replacing", async (id) => {
      if (!rows.some((row) => row.id === id && row.preview && !row.preview.same)) return;
      const params = { path: { sample_id: id } };
      const request = api.POST("/api/samples/{sample_id}/rerender", {
        params,
        body: { ...body, gesture },
      });
      try {
        const made = await answered(request);
        if (made.changed) count += 1;
        gesture = made.gesture;
      } catch (error) {
        failed.push(said(error));
      }
    });
    if (gesture) offerUndo(gesture, `${count} rendered again`);
    await refresh();
    setRows([]);
    // What could not be done is told here, not behind a dialog that has gone.
    if (failed.length > 0) setProblem(`${failed.length} stayed as they were: ${failed[0]}`);
    else close();
  };
  const close = () => {
    stopped.current = true;
    setProblem(null);
    onClose();
  };
  /** What was heard is no longer what would be put in its place. */
  const ask = <Value,>(put: (value: Value) => void) => {
    return (value: Value) => {
      put(value);
      setRows([]);
    };
  };
  const changed = rows.filter(({ preview: one }) => one && !one.same).length;
  return (
    <DialogFrame open={open} onClose={close} title={`Render ${ids.length} again`} wide>
      <div className="flex items-end gap-3">
        <Choice label="Of" value={which} options={WHICH} onChange={ask(setWhich)} />
        <Choice label="At" value={rate} options={RATES} onChange={ask(setRate)} />
        <Button onClick={() => void preview()} disabled={progress !== null}>
          Hear and compare
        </Button>
      </div>
      <PlanTable
        heads={["Sample", "Revision", "Loudness", "Note", "Beside it now"]}
        rows={rows.map(({ id, preview: one, words }) =>
          one
            ? [
                <span key="play" className="flex items-center">
                  <Button
                    look="quiet"
                    className="-ml-2"
                    aria-label={`Play the new render of ${one.name}`}
                    onClick={() => void playUrl(`/api/auditions/${one.digest}.wav`, `new-${id}`)}
                  >
                    <Play size={13} aria-hidden />
                  </Button>
                  <span className="max-w-40 truncate">{one.name}</span>
                </span>,
                one.revision,
                `${levelText(one.before.loudness_lufs, "")} → ${levelText(one.after.loudness_lufs, "")}`,
                `${noteText(one.before)} → ${noteText(one.after)}`,
                likenessWords(one),
              ]
            : ["", "", "", "", words],
        )}
      />
      {problem && (
        <p role="alert" className="mt-3 text-bad">
          {problem}
        </p>
      )}
      <div className="mt-4 flex items-center justify-end gap-2">
        {progress && (
          <div className="mr-auto min-w-0 flex-1">
            <ProgressLine
              verb={progress.verb}
              work={progress}
              onStop={() => (stopped.current = true)}
            />
          </div>
        )}
        <Button onClick={close}>Cancel</Button>
        <Button
          look="action"
          disabled={progress !== null || changed === 0}
          onClick={() => void replace()}
        >
          Replace {changed}
        </Button>
      </div>
    </DialogFrame>
  );
}
