import { useForm } from "react-hook-form";
import type { Finding } from "../../api/types";
import { acceptFinding } from "./api";
import { isoSecond } from "../../time/view";
import { useCommand } from "../../ui/useCommand";
import { DialogForm } from "../../ui/DialogForm";
import { SelectOf, TextOf } from "../../ui/fields";
import { headline } from "./finding";

const DAYS = [1, 7, 30, 90].map((d) => [String(d), d === 1 ? "a day" : `${d} days`] as const);

/** A person takes responsibility for a finding: why, and until when. */
export function AcceptForm(props: { finding: Finding; onClose: () => void; onDone: () => void }) {
  const { finding, onClose, onDone } = props;
  const form = useForm({ defaultValues: { reason: "", days: "7" } });
  const { run, pending, problem } = useCommand();
  return (
    <DialogForm
      form={form}
      title={`Accept: ${headline(finding)}`}
      about="It stands apart until then and comes back by itself if its cause is still there."
      label="Accept"
      width="w-[480px]"
      text="Accept"
      missing={(v) => [!v.reason.trim() && "why it is acceptable"]}
      disabled={pending}
      problem={problem}
      onSubmit={({ reason, days }) => {
        const until = isoSecond(Date.now() + Number(days) * 86_400_000);
        return run(() => acceptFinding({ finding: finding.key, reason, until }), onDone);
      }}
      onClose={onClose}
    >
      <TextOf form={form} name="reason" label="Why is it acceptable?" autoFocus />
      <SelectOf form={form} name="days" label="For how long?" options={DAYS} />
    </DialogForm>
  );
}
