import { PanelRight } from "lucide-react";
import { useState } from "react";
import { Drawer } from "../../ui";

interface Props {
  /** What its details are of. */
  name: string;
  children: React.ReactNode;
}

/** Details beside a list; where the window is narrow, behind a button. */
export function DetailsDrawer({ name, children }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        aria-label={`Details of ${name}`}
        aria-expanded={open}
        onClick={() => setOpen(true)}
        className="hidden w-8 shrink-0 place-items-center border-l border-line-strong bg-panel hover:bg-band narrow:grid"
      >
        <PanelRight size={15} aria-hidden />
      </button>
      <Drawer
        side="right"
        open={open}
        onClose={() => setOpen(false)}
        closeLabel="Close details"
        className="flex min-h-0 w-[300px] shrink-0"
      >
        {children}
      </Drawer>
    </>
  );
}
