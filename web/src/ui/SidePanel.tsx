import { Dialog, DialogPanel } from "@headlessui/react";
import type { ReactNode } from "react";

type Props = { width: string; open?: boolean; onClose: () => void; testId: string; children: ReactNode };

/** A panel at the right edge that says more about something on the page; Escape and a click beside it close it. */
export function SidePanel({ width, open = true, onClose, testId, children }: Props) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <div className={`fixed inset-y-0 right-0 max-w-full ${width}`}>
        <DialogPanel
          className="h-full overflow-y-auto border-l border-ink bg-panel p-6 shadow-xl"
          data-testid={testId}
        >
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
