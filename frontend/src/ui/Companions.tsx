import { Users } from "lucide-react";

interface Props {
  /** Who else is here; ``own`` is another window of one's own. */
  companions: { name: string; own: boolean }[];
  /** Their initials alone, where there is little room. */
  compact?: boolean;
}

const SHOWN = 2;

/** Who else looks at the same thing; nothing where one is alone. */
export function Companions({ companions, compact = false }: Props) {
  if (companions.length === 0) return null;
  const names = companions.map(({ name, own }) => (own ? "your other window" : name));
  const words =
    names.length > SHOWN
      ? `${names.slice(0, SHOWN).join(", ")} and ${names.length - SHOWN} more`
      : names.join(", ");
  const shown = compact
    ? companions.map(({ name, own }) => (own ? "you" : initials(name))).join(" ")
    : words;
  return (
    <span
      role="status"
      aria-label={`Also here: ${names.join(", ")}`}
      title={`Also here: ${names.join(", ")}`}
      className="inline-flex min-w-0 items-center gap-1 text-[12px] text-ink-2"
    >
      <Users size={13} aria-hidden className="shrink-0 text-action" />
      <span className="truncate">{shown}</span>
    </span>
  );
}

const initials = (name: string) =>
  name
    .split(/\s+/)
    .slice(0, 2)
    .map((part) => part.charAt(0))
    .join("");
