import { useForm, useWatch } from "react-hook-form";
import { tellDrill, type Proposal } from "./api";
import { longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { DialogForm } from "../../ui/DialogForm";
import { CheckOf, MomentOf, TextOf } from "../../ui/fields";
import { instantOf } from "../../time/typed";

type Props = { proposal: Proposal; onClose: () => void; onDone: () => void };

/** What became of a drill: when it ran, whether it reached its moment, and what was looked at afterwards. */
export function DrillForm({ proposal, onClose, onDone }: Props) {
  const form = useForm({ defaultValues: { started: "", ended: "", ok: true, checks: "", message: "" } });
  const [ok, checks] = useWatch({ control: form.control, name: ["ok", "checks"] });
  const { run, pending, problem } = useCommand(["drills"]);
  const at = (typed: string) => instantOf(typed, viewerZone);
  return (
    <DialogForm
      form={form}
      title={`The drill of ${proposal.database} to ${longMoment(proposal.moment, viewerZone)}`}
      label="The result"
      text="Record it"
      missing={(v) => [!at(v.started) && "when it began", !at(v.ended) && "when it ended"]}
      disabled={pending}
      problem={problem}
      onSubmit={(v) => {
        const [started, ended] = [at(v.started), at(v.ended)];
        if (!started || !ended) return;
        void run(
          () =>
            tellDrill(proposal.id, {
              started,
              ended,
              reached: v.ok ? proposal.moment : null,
              ok: v.ok,
              checks: v.checks
                .split(",")
                .map((c) => c.trim())
                .filter(Boolean),
              message: v.message,
            }),
          onDone,
        );
      }}
      onClose={onClose}
    >
      <MomentOf form={form} name="started" label="Began" className="block" zone={viewerZone} autoFocus />
      <MomentOf form={form} name="ended" label="Ended" className="block" zone={viewerZone} />
      <CheckOf form={form} name="ok" label="it reached its moment" />
      <TextOf
        form={form}
        name="checks"
        label="What was checked, separated by commas"
        placeholder="row counts, sailings of the day"
      />
      {ok && !checks.trim() && <p className="text-ochre-text">Without a check it proves nothing.</p>}
      <TextOf form={form} name="message" label="Notes to keep" />
    </DialogForm>
  );
}
