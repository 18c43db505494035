import { useForm } from "react-hook-form";
import type { DatabaseView } from "../../api/types";
import { placeHold } from "./api";
import { isoSecond } from "../../time/view";
import { useCommand } from "../../ui/useCommand";
import { DialogForm } from "../../ui/DialogForm";
import { MomentOf, SelectOf, TextOf } from "../../ui/fields";
import { instantOf } from "../../time/typed";

const DAY = 86_400_000;
const LENGTHS = [
  ["30", "for 30 days"],
  ["90", "for 90 days"],
  ["365", "for a year"],
  ["0", "until somebody lifts it"],
] as const;

/** Keeps a backup, or what restores a moment, whatever the policy says. */
export function HoldForm(props: { data: DatabaseView; backup: string | null; onClose: () => void }) {
  const { data, backup, onClose } = props;
  const { id, name, zone } = data.row;
  const form = useForm({ defaultValues: { moment: "", reason: "", days: "30" } });
  const { run, pending, problem } = useCommand(["database", id], ["backups", id]);
  return (
    <DialogForm
      form={form}
      title={backup ? `Hold a backup of ${name}` : `Hold a moment of ${name}`}
      about={
        backup
          ? "All its copies stay, and whatever they build on, until the hold ends."
          : "What is needed to restore that moment stays until the hold ends."
      }
      label="Hold"
      text="Hold it"
      missing={(v) => [
        backup === null && !instantOf(v.moment, zone) && "which moment",
        !v.reason.trim() && "why it is kept",
      ]}
      disabled={pending}
      problem={problem}
      onSubmit={(v) =>
        run(
          () =>
            placeHold(id, {
              backup,
              moment: backup ? null : (instantOf(v.moment, zone) ?? null),
              reason: v.reason,
              until: v.days === "0" ? null : isoSecond(Date.now() + Number(v.days) * DAY),
            }),
          onClose,
        )
      }
      onClose={onClose}
    >
      {backup ? (
        <p className="font-mono text-note break-all">{backup}</p>
      ) : (
        <MomentOf form={form} name="moment" label="Which moment?" zone={zone} autoFocus />
      )}
      <TextOf form={form} name="reason" label="Why is it kept?" autoFocus={backup !== null} />
      <SelectOf form={form} name="days" label="How long?" options={LENGTHS} />
    </DialogForm>
  );
}
