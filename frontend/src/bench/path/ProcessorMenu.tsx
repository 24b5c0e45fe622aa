import { Ellipsis } from "lucide-react";
import type { Processor } from "../../api";
import { ActionMenu } from "../../ui";
import {
  copyProcessor,
  hasCopied,
  pasteProcessor,
  processorName,
  removeProcessor,
} from "../../sound";
import { openFinder } from "../parts";

/** What can be done with a processor other than set it. */
export function ProcessorMenu({ part }: { part: Processor }) {
  const name = processorName(part.kind);
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
          act: () => removeProcessor(part.id),
        },
      ]}
    >
      <Ellipsis size={14} aria-hidden />
    </ActionMenu>
  );
}
