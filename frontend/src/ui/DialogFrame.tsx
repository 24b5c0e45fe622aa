import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  wide?: boolean;
  /** A width of its own, as a class. */
  width?: string;
  children: React.ReactNode;
}

export function DialogFrame({ open, onClose, title, wide = false, width, children }: Props) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <DialogBackdrop className="fixed inset-0 bg-shade" />
      <div className="fixed inset-0 grid place-items-center p-4">
        <DialogPanel
          className={`w-full ${width ?? (wide ? "max-w-[640px]" : "max-w-[400px]")} max-h-[calc(100dvh-32px)] overflow-y-auto rounded-card border border-line-strong bg-panel p-4`}
        >
          <DialogTitle className="mb-3 font-title text-[17px] font-semibold">{title}</DialogTitle>
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
