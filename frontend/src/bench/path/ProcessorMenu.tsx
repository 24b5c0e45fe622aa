import { Ellipsis } from "lucide-react";
import type { Processor } from "../../api";
import { ActionMenu } from "../../ui";
import {
  withoutProcessor,
  processorName,
  edit,
  select,
  copyProcessor,
  hasCopied,
  pasteProcessor,
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
