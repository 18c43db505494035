import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useState } from "react";
import type { Finding } from "../../api/types";
import { acceptFinding } from "./api";
import { useCommand } from "../../ui/useCommand";
import { FormFoot } from "../../ui/FormFoot";
import { headline } from "./finding";

const DAYS = [1, 7, 30, 90];

/** A person takes responsibility for a finding: why, and until when. */
export function AcceptForm(props: { finding: Finding; onClose: () => void; onDone: () => void }) {
  const { finding, onClose, onDone } = props;
  const [reason, setReason] = useState("");
  const [days, setDays] = useState(7);
  const { run, pending, problem } = useCommand();
  const missing = [!reason.trim() && "why it is acceptable"].filter(Boolean);
  const field = "w-full rounded border border-line bg-panel px-2 py-1";
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-ink/20">
        <DialogPanel className="w-[480px] max-w-full rounded-xl border border-ink bg-panel p-6 shadow-xl">
          <DialogTitle className="text-[20px] leading-tight">Accept: {headline(finding)}</DialogTitle>
          <p className="mt-1 text-muted">
            It stands apart until then and comes back by itself if its cause is still there.
          </p>
          <form
            aria-label="Accept"
            className="mt-3 space-y-3"
            onSubmit={(e) => {
              e.preventDefault();
              if (missing.length > 0) return;
              const until = new Date(Date.now() + days * 86_400_000).toISOString().replace(/\.\d+Z/, "Z");
              void run(() => acceptFinding({ finding: finding.key, reason, until }), onDone);
            }}
          >
            <label className="block">
              Why is it acceptable?
              <input className={field} value={reason} autoFocus onChange={(e) => setReason(e.target.value)} />
            </label>
            <label className="block">
              For how long?
              <select className={field} value={days} onChange={(e) => setDays(Number(e.target.value))}>
                {DAYS.map((d) => (
                  <option key={d} value={d}>
                    {d === 1 ? "a day" : `${d} days`}
                  </option>
                ))}
              </select>
            </label>
            <FormFoot
              text="Accept"
              missing={missing}
              disabled={pending}
              problem={problem}
              onCancel={onClose}
            />
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
