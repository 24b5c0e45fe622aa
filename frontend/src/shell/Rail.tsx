import {
  Activity,
  Archive,
  CircleHelp,
  Diff,
  Grip,
  LayoutGrid,
  Moon,
  Sun,
  UserRound,
} from "lucide-react";
import { useState } from "react";
import { NavLink } from "react-router";
import { BatchItem } from "../imports";
import { AccountDialog } from "../session";
import { toggleTheme, useTheme } from "../ui";

const SCREENS = [
  { to: "/bench", label: "Bench", Icon: Activity },
  { to: "/tryout", label: "Try-out", Icon: Grip },
  { to: "/batch", label: "Batch", Icon: LayoutGrid },
  { to: "/libraries", label: "Libraries", Icon: Archive },
  { to: "/compare", label: "Compare", Icon: Diff },
];
const ITEM =
  "flex w-14 shrink-0 flex-col items-center gap-1 rounded-card py-2 text-[11px] compact:w-9 compact:py-1.5";
/** Beside its icon only where there is room; a reader hears it always. */
const WORDS = "compact:sr-only";

export function Rail({ account }: { account: { name: string } }) {
  const theme = useTheme((state) => state.theme);
  const [open, setOpen] = useState(false);
  const Lamp = theme === "light" ? Moon : Sun;
  return (
    <nav
      aria-label="Screens"
      className="flex w-16 shrink-0 flex-col items-center gap-1 border-r border-line-strong bg-rail py-2 compact:w-11 compact:overflow-y-auto compact:overflow-x-hidden"
    >
      <img
        src="/icon.svg"
        alt="Nest Crate"
        className="mb-2 size-9 shrink-0 rounded-md compact:size-7 bg-[#e9e2d3] p-0.5"
      />
      {SCREENS.map(({ to, label, Icon }) => (
        <NavLink
          key={to}
          to={to}
          title={label}
          className={({ isActive }) =>
            `${ITEM} ${isActive ? "bg-ink text-sheet" : "text-ink-2 hover:bg-band"}`
          }
        >
          <Icon size={17} strokeWidth={1.6} aria-hidden />
          <span className={WORDS}>{label}</span>
        </NavLink>
      ))}
      <BatchItem className={`${ITEM} mt-auto text-ink-2 hover:bg-band`} />
      <button
        type="button"
        onClick={() => setOpen(true)}
        title={account.name}
        aria-label={`Account of ${account.name}`}
        className={`${ITEM} first-of-type:mt-auto text-ink-2 hover:bg-band`}
      >
        <UserRound size={16} strokeWidth={1.6} aria-hidden />
        <span className={`w-full truncate px-0.5 text-center ${WORDS}`}>
          {account.name.split(" ")[0]}
        </span>
      </button>
      <a
        href="/docs/index.html"
        target="_blank"
        rel="noreferrer"
        className={`${ITEM} text-ink-2 hover:bg-band`}
      >
        <CircleHelp size={16} strokeWidth={1.6} aria-hidden />
        <span className={WORDS}>Help</span>
      </a>
      <button type="button" onClick={toggleTheme} className={`${ITEM} text-ink-2 hover:bg-band`}>
        <Lamp size={16} strokeWidth={1.6} aria-hidden />
        <span className={WORDS}>{theme === "light" ? "Dark" : "Light"}</span>
      </button>
      <AccountDialog open={open} onClose={() => setOpen(false)} />
    </nav>
  );
}
