import { useDeferredValue, useState } from "react";
import { fieldProblem, useVocabulary, resultOf, api } from "../../api";
import { TextField } from "../../ui";
import { PlanDialog } from "./PlanDialog";
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
  const planned = usePlan({
    key: ["rename", ids, asked],
    enabled: open && ids.length > 0 && asked !== "",
    ask: (apply, headers) => {
      const body = { ids, template: apply ? template : asked, apply };
      return resultOf(api.POST("/api/samples/rename", { body, headers }));
    },
    label: `${ids.length} renamed`,
    onDone: onClose,
  });
  const own = fieldProblem(planned.problem, "template");
  return (
    <PlanDialog
      open={open}
      onClose={onClose}
      title={`Rename ${ids.length}`}
      heads={["Now", "Then"]}
      rows={(planned.plan?.names ?? []).map(({ before, after }) => [before, after])}
      verb="Rename"
      doing="Naming"
      // What is wrong with the template stands under it.
      planned={own ? { ...planned, words: null } : planned}
    >
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
    </PlanDialog>
  );
}
