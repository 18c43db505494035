import { useForm, useWatch } from "react-hook-form";
import { viewerZone } from "../../time/words";
import { ChoiceOf, SelectOf, TextOf, TimeOf } from "../../ui/fields";
import { Form } from "../../ui/Form";
import { ProblemNote } from "../../ui/ProblemNote";
import { useCommand } from "../../ui/useCommand";
import { LONG, PAUSES, propose, useTry, type StandingRow, type Terms } from "./standing";
import { TrialView } from "./TrialView";

type Values = {
  obsoleteFor: string;
  copies: string;
  gigabytes: string;
  from: string;
  to: string;
  zone: string;
  pausedBy: string;
  reason: string;
};

const GB = 1e9;

function start(row: StandingRow): Values {
  const known = (row.inForce ?? row.proposed)?.terms;
  return {
    obsoleteFor: known?.obsoleteFor ?? "P7D",
    copies: String(known?.copies ?? 200),
    gigabytes: String((known?.bytes ?? 500 * GB) / GB),
    from: known?.from ?? "22:00",
    to: known?.to ?? "05:00",
    zone: known?.zone ?? viewerZone,
    pausedBy: known?.pausedBy ?? "will-break",
    reason: "",
  };
}

function terms(policy: string, v: Values): Terms {
  return {
    policy,
    obsoleteFor: v.obsoleteFor,
    copies: Number(v.copies),
    bytes: Number(v.gigabytes) * GB,
    from: v.from,
    to: v.to,
    zone: v.zone,
    pausedBy: v.pausedBy,
  };
}

const wholeFrom1 = (text: string) => /^\d+$/.test(text.trim()) && Number(text) >= 1;

function lacking(v: Values) {
  return [
    !wholeFrom1(v.copies) && "how many copies at most",
    !(Number(v.gigabytes) > 0) && "how many gigabytes at most",
    (!v.from.trim() || !v.to.trim()) && "from when to when",
    !v.zone.trim() && "in which zone",
  ];
}

/** What is to go by itself of a policy's databases; what it would have done is looked at before it is proposed. */
export function StandingForm({ row, onDone }: { row: StandingRow; onDone: () => void }) {
  const form = useForm<Values>({ defaultValues: start(row) });
  const values = { ...start(row), ...useWatch({ control: form.control }) };
  const asked = terms(row.policy, values);
  const trial = useTry();
  const { run, pending, problem } = useCommand(["purge"]);
  const seen = trial.data && JSON.stringify(trial.variables) === JSON.stringify(asked);
  const others = (value: string, known: [string, string][]): [string, string][] =>
    known.some(([v]) => v === value) ? known : [...known, [value, value]];
  return (
    <Form
      form={form}
      label={`Standing purge of ${row.name}`}
      className="mt-2 max-w-5xl rounded-lg border border-line bg-panel p-4"
      text="Propose it"
      missing={(v) => [
        ...lacking({ ...start(row), ...v }),
        !seen && "that you want to see what it would have done",
        !v.reason.trim() && "why",
      ]}
      disabled={pending}
      problem={problem}
      onSubmit={(v) => void run(() => propose(terms(row.policy, v), v.reason), onDone)}
      onCancel={onDone}
    >
      <div className="grid grid-cols-3 items-end gap-x-4 gap-y-2 max-[800px]:grid-cols-1">
        <SelectOf
          form={form}
          name="obsoleteFor"
          label="No rule has needed it for"
          options={others(values.obsoleteFor, LONG)}
        />
        <TextOf form={form} name="copies" label="Copies a night, at most" />
        <TextOf form={form} name="gigabytes" label="Gigabytes a night, at most" />
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <TimeOf form={form} name="from" label="From" />
        <TimeOf form={form} name="to" label="to" />
        <span className="text-muted">in {values.zone}</span>
        <ChoiceOf
          form={form}
          name="pausedBy"
          label="Nothing goes"
          options={others(values.pausedBy, PAUSES)}
        />
      </div>
      <button
        type="button"
        className="outline-button mt-3"
        disabled={trial.isPending || lacking(values).some(Boolean)}
        onClick={() => trial.mutate(asked)}
      >
        {trial.isPending ? "Going through the nights…" : "See what it would have done"}
      </button>
      {trial.error && <ProblemNote error={trial.error} />}
      {seen && <TrialView trial={trial.data} />}
      <div className="mt-3 mb-2">
        <TextOf form={form} name="reason" label="Why may it go by itself?" />
      </div>
    </Form>
  );
}
