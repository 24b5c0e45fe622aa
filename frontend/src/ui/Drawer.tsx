import { X } from "lucide-react";

interface Props {
  side: "left" | "right";
  open: boolean;
  onClose: () => void;
  /** What closing it is called. */
  closeLabel: string;
  /** Its place and look where the window is wide. */
  className: string;
  children: React.ReactNode;
}

/**
 * A panel beside the main one. Where the window is narrow it is a drawer, which lies over the page
 * while it is open.
 */
export function Drawer({ side, open, onClose, closeLabel, className, children }: Props) {
  const edge = side === "left" ? "narrow:left-0" : "narrow:right-0";
  return (
    <>
      {open && (
        <div
          aria-hidden
          onClick={onClose}
          className="fixed inset-0 z-20 hidden bg-shade narrow:block"
        />
      )}
      <div
        onKeyDown={(event) => {
          if (event.key === "Escape" && open) onClose();
        }}
        className={`${className} narrow:fixed narrow:inset-y-0 narrow:z-30 narrow:max-w-[86vw] narrow:shadow-xl narrow:[&_h2:first-of-type]:pr-9 ${edge} ${open ? "" : "narrow:hidden"}`}
      >
        <button
          type="button"
          aria-label={closeLabel}
          title={closeLabel}
          onClick={onClose}
          className="absolute top-1.5 right-1.5 z-10 hidden size-7 place-items-center rounded-control bg-sheet text-ink-2 hover:bg-band narrow:grid"
        >
          <X size={15} aria-hidden />
        </button>
        {children}
      </div>
    </>
  );
}
