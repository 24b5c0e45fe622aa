import { DialogFrame, ProgressLine } from "../../ui";
import { PlanFooter, PlanTable } from "./PlanFooter";
import type { usePlan } from "./usePlan";

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  /** What is asked for: fields. */
  children: React.ReactNode;
  heads: string[];
  rows: React.ReactNode[][];
  hint?: string;
  /** What is wrong with the fields themselves, if anything. */
  wrong?: string | null;
  verb: string;
  /** What is being done while the plan is made. */
  doing: string;
  planned: Pick<
    ReturnType<typeof usePlan>,
    "plan" | "problem" | "words" | "busy" | "waits" | "progress" | "stop" | "carryOut"
  >;
}

/** Fields, what they would bring about, and a button that does it. */
export function PlanDialog(props: Props) {
  const { open, onClose, title, children, heads, rows, hint, wrong, verb, doing, planned } = props;
  const { plan, problem, words, busy, waits, progress, stop, carryOut } = planned;
  return (
    <DialogFrame open={open} onClose={onClose} title={title} wide>
      {children}
      <PlanTable heads={heads} rows={rows} />
      <div className="mt-2 min-h-8 text-[12px] text-ink-2">
        {progress ? (
          <ProgressLine verb={busy ? verb : doing} work={progress} onStop={stop} />
        ) : (
          <p>{waits ? `${doing}…` : hint}</p>
        )}
      </div>
      <PlanFooter
        words={wrong ?? words}
        verb={verb}
        busy={busy}
        ready={problem === null && plan !== undefined && !wrong}
        onDo={carryOut}
        onClose={onClose}
      />
    </DialogFrame>
  );
}
