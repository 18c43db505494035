import { useForm, useWatch, type UseFormReturn } from "react-hook-form";
import { useChoices } from "../fleet/api";
import { usePolicies } from "../policies/api";
import { putList, type SendList } from "./api";
import { useCommand } from "../../ui/useCommand";
import { Choice } from "../../ui/Choice";
import { Form } from "../../ui/Form";
import { CheckOf, ChoiceOf, TextOf, TimeOf } from "../../ui/fields";
import { idOf } from "./say";
import { timeOf } from "../../time/typed";

type Props = {
  list: SendList;
  ranks: string[];
  taken: string[];
  onDone: () => void;
  onClose: () => void;
};

/** A list as it is typed: addresses in one line. */
type Said = Omit<SendList, "mails"> & { mails: string };

const addressesOf = (typed: string) =>
  typed
    .split(",")
    .map((m) => m.trim())
    .filter(Boolean);

/** What a list may be about, by how it is said. */
function useSubjects(): Record<string, [string, string][]> {
  const policies = usePolicies();
  const { data } = useChoices();
  return {
    policy: (policies.data ?? []).map((p) => [p.id, p.name]),
    owner: (data?.owners ?? []).map((o) => [o, o]),
    label: (data?.labels ?? []).map((o) => [o, o.replace("=", ": ")]),
  };
}

/** Who is told, of which databases, and what. */
export function ListForm({ list, ranks, taken, onDone, onClose }: Props) {
  const form = useForm<Said>({ defaultValues: { ...list, mails: list.mails.join(", ") } });
  const { run, pending, problem } = useCommand();
  const subjects = useSubjects();
  const fresh = list.id === "";
  const idFor = (v: Said) => (fresh ? idOf(v.name) : list.id);
  const missing = (v: Said) => [
    !v.name.trim() && "what it is called",
    addressesOf(v.mails).length === 0 && !v.webhook.trim() && "whom to tell",
    fresh && taken.includes(idFor(v)) && "another name: this one is taken",
    [v.watchAt, v.quietFrom, v.quietTo].some((t) => t && !timeOf(t)) && "times of the day such as 22:00",
  ];
  const keep = (v: Said) => {
    const onDay = (typed: string) => timeOf(typed) ?? "";
    const stated = {
      ...v,
      id: idFor(v),
      mails: addressesOf(v.mails),
      webhook: v.webhook.trim(),
      of: v.by === "fleet" ? "" : v.of || (subjects[v.by]?.[0]?.[0] ?? ""),
      watchAt: onDay(v.watchAt),
      quietFrom: onDay(v.quietFrom),
      quietTo: onDay(v.quietTo),
    };
    return run(() => putList(stated.id, stated), onDone);
  };
  return (
    <Form
      form={form}
      label="A list"
      className="mt-3 max-w-[620px] space-y-2 border-l-[3px] border-violet pl-4"
      text="Keep the list"
      missing={missing}
      disabled={pending}
      problem={problem}
      onSubmit={keep}
      onCancel={onClose}
    >
      <TextOf form={form} name="name" label="Name" autoFocus />
      <TextOf form={form} name="mails" label="Mail to, separated by commas" />
      <TextOf form={form} name="webhook" label="Events to (CloudEvents over HTTP)" placeholder="https://…" />
      <WhenAndWhat form={form} subjects={subjects} ranks={ranks} />
      <CheckOf form={form} name="ends" label="also when a finding ends" />
      <CheckOf form={form} name="runsFailed" label="runs that fail, at once" />
      <CheckOf form={form} name="runsOk" label="runs that go well" />
      <div className="grid grid-cols-3 gap-x-4 max-[600px]:grid-cols-1">
        <TimeOf form={form} name="watchAt" label="Morning watch at" />
        <TimeOf form={form} name="quietFrom" label="Quiet from" />
        <TimeOf form={form} name="quietTo" label="to" />
      </div>
      <TextOf form={form} name="zone" label="Time zone" />
      <ChoiceOf
        form={form}
        name="report"
        label="Report"
        options={[
          ["", "none"],
          ["weekly", "of the week, on Monday"],
          ["quarterly", "of the quarter, on its first day"],
        ]}
      />
      <CheckOf form={form} name="enabled" label="switched on" />
    </Form>
  );
}

function WhenAndWhat(props: {
  form: UseFormReturn<Said>;
  subjects: Record<string, [string, string][]>;
  ranks: string[];
}) {
  const { form, subjects, ranks } = props;
  const [by, of] = useWatch({ control: form.control, name: ["by", "of"] });
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-1">
      <Choice
        label="Of"
        value={by}
        options={[
          ["fleet", "the whole fleet"],
          ["policy", "a policy"],
          ["owner", "an owner"],
          ["label", "a label"],
        ]}
        onChange={(next) => {
          form.setValue("by", next);
          form.setValue("of", "");
        }}
      />
      {by !== "fleet" && (
        <Choice
          label="which"
          labelled={false}
          value={of || (subjects[by]?.[0]?.[0] ?? "")}
          options={subjects[by] ?? []}
          onChange={(next) => form.setValue("of", next)}
        />
      )}
      <ChoiceOf
        form={form}
        name="rank"
        label="Findings"
        options={[["", "none"], ...ranks.map((r): [string, string] => [r, `${r} and worse`])]}
      />
    </div>
  );
}
