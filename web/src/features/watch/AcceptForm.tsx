import { useState } from "react";
import type { Finding } from "../../api/types";
import { acceptFinding } from "./api";
import { isoSecond } from "../../time/view";
import { useCommand } from "../../ui/useCommand";
import { DialogForm } from "../../ui/DialogForm";
import { headline } from "./finding";

const DAYS = [1, 7, 30, 90];

/** A person takes responsibility for a finding: why, and until when. */
export function AcceptForm(props: { finding: Finding; onClose: () => void; onDone: () => void }) {
  const { finding, onClose, onDone } = props;
  const [reason, setReason] = useState("");
  const [days, setDays] = useState(7);
  const { run, pending, problem } = useCommand();
  const field = "w-full rounded border border-line bg-panel px-2 py-1";
  return (
    <DialogForm
      title={`Accept: ${headline(finding)}`}
      about="It stands apart until then and comes back by itself if its cause is still there."
      label="Accept"
      width="w-[480px]"
      text="Accept"
      missing={[!reason.trim() && "why it is acceptable"]}
      disabled={pending}
      problem={problem}
      onSubmit={() => {
        const until = isoSecond(Date.now() + days * 86_400_000);
        void run(() => acceptFinding({ finding: finding.key, reason, until }), onDone);
      }}
      onClose={onClose}
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
    </DialogForm>
  );
}
