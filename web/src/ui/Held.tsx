import type { ReactNode } from "react";

/** What is held on to while another moment or period is asked for: dimmed, so that nobody takes it for that, and not to be clicked. */
export function Held({ stale, children }: { stale: boolean; children: ReactNode }) {
  return (
    <div
      aria-busy={stale}
      inert={stale}
      className={stale ? "opacity-40 transition-opacity delay-150" : undefined}
    >
      {children}
    </div>
  );
}
