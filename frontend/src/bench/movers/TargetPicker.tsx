import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { Plus } from "lucide-react";
import { useState } from "react";
import type { Sound } from "../../api";
import {
  edit,
  firstAmount,
  newLink,
  sharedTargets,
  type SharedTarget,
  type Target,
  valueAt,
  withLink,
  withoutLink,
} from "../../sound";

interface Props {
  sound: Sound;
  mover: { id: string; name: string };
  /** All that it may move. */
  targets: Target[];
}

interface Option {
  value: string;
  label: string;
  members: Target[];
}

interface Group {
  title: string;
  options: Option[];
}

/** Every target by its owner, what layers have in common first; of those that a search names. */
function grouped(shared: SharedTarget[], targets: Target[], typed: string): Group[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const named = (title: string, label: string) => {
    const text = `${title} ${label}`.toLowerCase();
    return words.every((word) => text.includes(word));
  };
  const groups = new Map<string, Option[]>();
  const add = (title: string, option: Option) => {
    if (named(title, option.label)) groups.set(title, [...(groups.get(title) ?? []), option]);
  };
  for (const { target, label, members } of shared)
    add("All layers", { value: target, label, members });
  for (const one of targets)
    add(one.owner, { value: one.target, label: one.parameter.label, members: [one] });
  return [...groups].map(([title, options]) => ({ title, options }));
}

/** A search for what a mover shall move: each one chosen is moved at once, chosen again it is let go. */
export function TargetPicker({ sound, mover, targets }: Props) {
  const [typed, setTyped] = useState("");
  const linked = new Set(
    sound.links.filter((link) => link.mover === mover.id).map(({ target }) => target),
  );
  const shared = sharedTargets(sound, targets);
  const groups = grouped(shared, targets, typed);
  const isLinked = ({ members }: Pick<Option, "members">) =>
    members.every(({ target }) => linked.has(target));
  const value = [
    ...targets.filter(({ target }) => linked.has(target)).map(({ target }) => target),
    ...shared.filter(isLinked).map(({ target }) => target),
  ];
  const members = (target: string) =>
    shared.find((one) => one.target === target)?.members ??
    targets.filter((one) => one.target === target);
  const words = (target: string) => {
    const [first, ...others] = members(target);
    const owner = others.length > 0 ? "All layers" : (first?.owner ?? "");
    return `${owner}: ${first?.parameter.label ?? ""}`;
  };
  const choose = (next: string[]) => {
    const added = next.find((one) => !value.includes(one));
    if (added !== undefined) {
      const fresh = members(added).filter(({ target }) => !linked.has(target));
      edit(`${words(added)} moved by ${mover.name}`, (now) =>
        fresh.reduce(
          (made, { target, parameter }) =>
            withLink(made, newLink(mover.id, target, firstAmount(parameter, valueAt(now, target)))),
          now,
        ),
      );
    }
    const gone = value.find((one) => !next.includes(one));
    if (gone === undefined) return;
    const ids = members(gone).map(({ target }) => target);
    edit(`${words(gone)}: link removed`, (now) =>
      now.links
        .filter((link) => link.mover === mover.id && ids.includes(link.target))
        .reduce(withoutLink, now),
    );
  };
  return (
    <Combobox multiple immediate value={value} onChange={choose} onClose={() => setTyped("")}>
      <div className="mt-1.5 flex items-center gap-1 rounded-control border border-line-strong bg-sheet px-1.5">
        <Plus size={12} aria-hidden className="text-action" />
        <ComboboxInput
          aria-label={`Link ${mover.name} to`}
          placeholder="Link to… type to search"
          className="h-6 min-w-0 flex-1 bg-transparent text-[12px]"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => event.stopPropagation()}
        />
      </div>
      <ComboboxOptions
        modal={false}
        className="mt-1 max-h-72 overflow-y-auto rounded-card border border-line-strong bg-sheet p-1 text-[12.5px]"
      >
        {groups.map(({ title, options }) => (
          <div key={title} role="group" aria-label={title}>
            <p aria-hidden className="px-2 pt-1.5 pb-0.5 text-[11px] font-semibold text-ink-2">
              {title}
            </p>
            {options.map((option) => (
              <ComboboxOption
                key={option.value}
                value={option.value}
                aria-label={`${title}: ${option.label}`}
                className="flex min-h-6 cursor-default items-center gap-2 rounded-sm px-2 data-focus:bg-band"
              >
                <span aria-hidden className="w-3 text-action">
                  {isLinked(option) ? "✓" : ""}
                </span>
                <span className="min-w-0 flex-1 truncate">{option.label}</span>
                {option.members.length > 1 && (
                  <span className="text-[11px] text-ink-2">{option.members.length} layers</span>
                )}
              </ComboboxOption>
            ))}
          </div>
        ))}
        {groups.length === 0 && <p className="px-2 py-1 text-ink-2">Nothing has that name.</p>}
      </ComboboxOptions>
    </Combobox>
  );
}
