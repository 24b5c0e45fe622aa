import { ChevronDown } from "lucide-react";
import type { Sound } from "../../api";
import { useStarters } from "../../sound";
import { ActionMenu } from "../../ui";

/** A new sound that is a kick, a bell, a drone already: one starter for each category. */
export function StarterMenu({ onChoose }: { onChoose: (document: Sound) => void }) {
  const starters = useStarters();
  return (
    <ActionMenu
      label="Starters"
      title="Start from a kick, a bell, a drone…"
      className="-ml-1 grid h-8 w-6 place-items-center rounded-control border border-line-strong bg-sheet hover:bg-band"
      anchor="bottom end"
      actions={starters.map(({ category, words, document }) => ({
        label: category,
        words,
        act: () => onChoose(document),
      }))}
    >
      <ChevronDown size={14} aria-hidden />
    </ActionMenu>
  );
}
