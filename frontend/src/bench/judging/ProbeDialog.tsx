import { useQuery } from "@tanstack/react-query";
import { renderRequest, resultOf, api, type ProbeStep } from "../../api";
import { Button, DialogFrame, formatValue } from "../../ui";
import { useBench } from "../../sound";
import { applyFix } from "./applyFix";

interface Props {
  open: boolean;
  onClose: () => void;
}

/** Why is it silent: every step from source to output with its level, and the first that is silent. */
export function ProbeDialog({ open, onClose }: Props) {
  return (
    <DialogFrame open={open} onClose={onClose} title="Why is it silent?" wide>
      {open && <Walk onClose={onClose} />}
    </DialogFrame>
  );
}

function Walk({ onClose }: { onClose: () => void }) {
  const document = useBench((state) => state.document);
  const walk = useQuery({
    queryKey: ["probe", document],
    enabled: document !== null,
    queryFn: async () => {
      if (!document) return [];
      return (await resultOf(api.POST("/api/judging/probe", { body: renderRequest(document) })))
        .steps;
    },
  });
  if (walk.error) return <p role="alert">{walk.error.message}</p>;
  const found = walk.data?.some(({ reason }) => reason !== "");
  return (
    <div className="grid gap-2">
      <ol className="grid max-h-[55vh] gap-1 overflow-y-auto" aria-label="Steps">
        {walk.data?.map((step) => (
          <Step key={step.where} step={step} />
        ))}
      </ol>
      {walk.data && !found && <p className="text-ink-2">Every step passes the sound.</p>}
      <Button className="justify-self-end" onClick={onClose}>
        Close
      </Button>
    </div>
  );
}

const levelWords = (levelDb: number | null) =>
  levelDb === null ? "off" : levelDb <= -120 ? "silent" : formatValue(levelDb, "dB");

function Step({ step }: { step: ProbeStep }) {
  return (
    <li
      className={`grid grid-cols-[1fr_80px] items-center gap-2 rounded-control border bg-sheet px-2 py-1 ${step.reason ? "border-warn" : "border-line"}`}
    >
      <span>{step.where}</span>
      <span className={`figure text-right ${step.silent ? "text-warn" : "text-ink-2"}`}>
        {levelWords(step.level_db)}
      </span>
      {step.reason && (
        <p className="col-span-2 flex flex-wrap items-center gap-2 text-[12.5px]">
          {step.reason}
          {step.fixes.map((fix) => (
            <Button key={fix.label} className="min-h-6 px-2" onClick={() => applyFix(fix)}>
              {fix.label}
            </Button>
          ))}
        </p>
      )}
    </li>
  );
}
