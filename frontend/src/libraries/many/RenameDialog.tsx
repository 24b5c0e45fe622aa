import { useDeferredValue, useState } from "react";
import { fieldProblem, useVocabulary } from "../../api/catalogue";
import { answered, api } from "../../api/client";
import { DialogFrame } from "../../ui/DialogFrame";
import { TextField } from "../../ui/TextField";
import { PlanFooter, PlanTable } from "./PlanFooter";
import { usePlan } from "./usePlan";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

/** Names by template, each shown before it is given. */
export function RenameDialog({ open, onClose, ids }: Props) {
  const [template, setTemplate] = useState("{category}_{name:snake}_{number:02}");
  const asked = useDeferredValue(template);
  const fields = useVocabulary().data?.template_fields ?? [];
  const { plan, problem, words, busy, carryOut } = usePlan({
    key: ["rename", ids, asked],
    enabled: open && ids.length > 0 && asked !== "",
    ask: (apply) => {
      const body = { ids, template: apply ? template : asked, apply };
      return answered(api.POST("/api/samples/rename", { body }));
    },
    label: `${ids.length} renamed`,
    onDone: onClose,
  });
  const own = fieldProblem(problem, "template");
  return (
    <DialogFrame open={open} onClose={onClose} title={`Rename ${ids.length}`} wide>
      <TextField
        label="Template"
        autoFocus
        spellCheck={false}
        figure
        value={template}
        problem={own}
        onChange={(event) => setTemplate(event.target.value)}
      />
      <p className="mt-2 flex flex-wrap gap-1">
        {fields.map(({ name, text }) => (
          <button
            key={name}
            type="button"
            title={text}
            onClick={() => setTemplate(`${template}{${name}}`)}
            className="figure min-h-6 rounded-full border border-line-strong bg-sheet px-2 text-[11.5px] hover:bg-band"
          >
            {`{${name}}`}
          </button>
        ))}
      </p>
      <p className="mt-1 text-[12px] text-ink-2">
        A number may have digits, as in {"{variation:02}"}; a text may be written snake, kebab,
        lower, upper or title, as in {"{name:snake}"}.
      </p>
      <PlanTable
        heads={["Now", "Then"]}
        rows={(plan?.names ?? []).map(({ before, after }) => [before, after])}
      />
      <PlanFooter
        words={own ? null : words}
        verb="Rename"
        busy={busy}
        ready={problem === null && plan !== undefined}
        onDo={carryOut}
        onClose={onClose}
      />
    </DialogFrame>
  );
}
