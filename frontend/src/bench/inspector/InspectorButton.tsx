import { SlidersHorizontal } from "lucide-react";
import { setInspectorDrawer, useInspectorDrawer } from "./drawerStore";

/** Opens the inspector where it is a drawer. */
export function InspectorButton() {
  const open = useInspectorDrawer((state) => state.open);
  return (
    <button
      type="button"
      aria-expanded={open}
      onClick={() => setInspectorDrawer(!open)}
      className="hidden min-h-6 items-center gap-1.5 rounded-control border border-line-strong bg-sheet px-2 text-[12px] hover:bg-band narrow:inline-flex"
    >
      <SlidersHorizontal size={13} aria-hidden /> Inspector
    </button>
  );
}
