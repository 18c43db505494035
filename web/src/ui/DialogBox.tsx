import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import type { ReactNode } from "react";

type Props = {
  title?: ReactNode;
  /** How wide it is where there is room: a class. */
  width: string;
  open?: boolean;
  onClose: () => void;
  testId?: string;
  children: ReactNode;
};

/** A box in the middle of the page that wants an answer first; Escape and a click beside it close it. */
export function DialogBox({ title, width, open = true, onClose, testId, children }: Props) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-ink/20 p-6">
        <DialogPanel
          className={`${width} max-h-full max-w-full overflow-y-auto rounded-xl border border-ink bg-panel p-6 shadow-xl`}
          data-testid={testId}
        >
          {title && <DialogTitle className="text-section leading-tight">{title}</DialogTitle>}
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
