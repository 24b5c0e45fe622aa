import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Check } from "lucide-react";
import type { ComponentProps } from "react";

export interface Action {
  label: string;
  act: () => void;
  /** What it is, in a few more words. */
  words?: string;
  /** For choices: whether it is the one chosen. */
  on?: boolean;
}

interface Props {
  /** What the button shows. */
  children: React.ReactNode;
  label?: string;
  title?: string;
  className: string;
  anchor: NonNullable<ComponentProps<typeof MenuItems>["anchor"]>;
  actions: Action[];
}

/** A button with a list of things to do. */
export function ActionMenu({ children, label, title, className, anchor, actions }: Props) {
  const choices = actions.some(({ on }) => on !== undefined);
  return (
    <Menu>
      <MenuButton aria-label={label} title={title} className={className}>
        {children}
      </MenuButton>
      <MenuItems
        anchor={anchor}
        className="z-30 min-w-32 rounded-card border border-line-strong bg-sheet p-1 text-[12.5px] text-ink"
      >
        {actions.map((action) => (
          <MenuItem key={action.label}>
            <button
              type="button"
              onClick={action.act}
              className="flex w-full items-center gap-2 rounded-sm px-2 py-1 text-left data-focus:bg-band"
            >
              {choices && (
                <span className="w-3">{action.on && <Check size={12} aria-label="chosen" />}</span>
              )}
              {action.label}
              {action.words && <span className="text-[11.5px] text-ink-2">{action.words}</span>}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
