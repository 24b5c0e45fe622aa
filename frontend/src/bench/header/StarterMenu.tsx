import { useQuery } from "@tanstack/react-query";
import { ChevronDown } from "lucide-react";
import { resultOf, api, type Sound } from "../../api";
import { ActionMenu } from "../../ui";

/** A new sound that is a kick, a bell, a drone already: one starter for each category. */
export function StarterMenu({ onChoose }: { onChoose: (document: Sound) => void }) {
  const starters = useQuery({
    queryKey: ["starters"],
    staleTime: Infinity,
    queryFn: async () => (await resultOf(api.GET("/api/sources/starters"))).starters,
  });
  return (
    <ActionMenu
      label="Starters"
      title="Start from a kick, a bell, a drone…"
      className="-ml-1 grid h-8 w-6 place-items-center rounded-control border border-line-strong bg-sheet hover:bg-band"
      anchor="bottom end"
      actions={(starters.data ?? []).map(({ category, words, document }) => ({
        label: category,
        words,
        act: () => onChoose(document as Sound & Record<string, unknown>),
      }))}
    >
      <ChevronDown size={14} aria-hidden />
    </ActionMenu>
  );
}
