import { Ellipsis } from "lucide-react";
import type { Processor } from "../../api/types";
import { ActionMenu } from "../../ui/ActionMenu";
import { withoutProcessor } from "../chains";
import { openFinder } from "../finding/finderStore";
import { PROCESSOR_NAMES } from "../processorNames";
import { edit, select } from "../store";
import { copyProcessor, hasCopied, pasteProcessor } from "./chainEdits";

/** What can be done with a processor besides setting it. */
export function ProcessorMenu({ part }: { part: Processor }) {
  const name = PROCESSOR_NAMES[part.kind];
  return (
    <ActionMenu
      label={`More for ${name}`}
      title="Copy, replace, remove"
      className="grid size-6 place-items-center rounded-sm hover:bg-band"
      anchor="bottom end"
      actions={[
        { label: "Copy (Ctrl C)", act: () => copyProcessor(part) },
        ...(hasCopied() ? [{ label: "Paste after (Ctrl V)", act: pasteProcessor }] : []),
        { label: "Replace…", act: () => openFinder({ mode: "replace", id: part.id }) },
        {
          label: "Remove",
          act: () => {
            edit(`${name} removed`, (sound) => withoutProcessor(sound, part.id));
            select({ kind: "main" });
          },
        },
      ]}
    >
      <Ellipsis size={14} aria-hidden />
    </ActionMenu>
  );
}
