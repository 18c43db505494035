import { useState } from "react";
import type { DatabaseView } from "../../api/types";
import { placeHold } from "./api";
import { isoSecond } from "../../time/view";
import { useCommand } from "../../ui/useCommand";
import { DialogForm } from "../../ui/DialogForm";
import { instantOf } from "../../time/typed";
import { MomentField } from "../../ui/Typed";

const DAY = 86_400_000;
const LENGTHS: [days: number, text: string][] = [
  [30, "for 30 days"],
  [90, "for 90 days"],
  [365, "for a year"],
  [0, "until somebody lifts it"],
];

/** Keeps a backup, or what restores a moment, whatever the policy says. */
export function HoldForm(props: { data: DatabaseView; backup: string | null; onClose: () => void }) {
  const { data, backup, onClose } = props;
  const [moment, setMoment] = useState("");
  const [reason, setReason] = useState("");
  const [days, setDays] = useState(30);
  const id = data.row.id;
  const { run, pending, problem } = useCommand(["database", id], ["backups", id]);
  const at = instantOf(moment, data.row.zone);
  const field = "w-full rounded border border-line bg-panel px-2 py-1";
  return (
    <DialogForm
      title={backup ? `Hold a backup of ${data.row.name}` : `Hold a moment of ${data.row.name}`}
      about={
        backup
          ? "All its copies stay, and whatever they build on, until the hold ends."
          : "What is needed to restore that moment stays until the hold ends."
      }
      label="Hold"
      text="Hold it"
      missing={[backup === null && !at && "which moment", !reason.trim() && "why it is kept"]}
      disabled={pending}
      problem={problem}
      onSubmit={() =>
        void run(
          () =>
            placeHold(id, {
              backup,
              moment: backup ? null : (at ?? null),
              reason,
              until: days === 0 ? null : isoSecond(Date.now() + days * DAY),
            }),
          onClose,
        )
      }
      onClose={onClose}
    >
      {backup ? (
        <p className="font-mono text-[12px] break-all">{backup}</p>
      ) : (
        <MomentField
          label="Which moment?"
          zone={data.row.zone}
          autoFocus
          value={moment}
          onChange={setMoment}
        />
      )}
      <label className="block">
        Why is it kept?
        <input
          className={field}
          autoFocus={backup !== null}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
        />
      </label>
      <label className="block">
        How long?
        <select className={field} value={days} onChange={(e) => setDays(Number(e.target.value))}>
          {LENGTHS.map(([n, text]) => (
            <option key={n} value={n}>
              {text}
            </option>
          ))}
        </select>
      </label>
    </DialogForm>
  );
}
