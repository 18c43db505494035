import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useEffect, useRef, type ReactNode } from "react";

type Props = {
  title?: ReactNode;
  /** How wide it is where there is room: a class. */
  width: string;
  open?: boolean;
  onClose: () => void;
  testId?: string;
  children: ReactNode;
};

/** What takes the keyboard when a box opens: the first place to type or choose in. */
const FIELD = ":is(input, select, textarea):not([type=hidden], [type=file], :disabled)";

/** A box in the middle of the page that wants an answer first, from its first field on; Escape and a click beside it close it. */
export function DialogBox({ title, width, open = true, onClose, testId, children }: Props) {
  const panel = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (open) panel.current?.querySelector<HTMLElement>(FIELD)?.focus();
  }, [open]);
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-ink/20 p-6">
        <DialogPanel
          ref={panel}
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
