import { useForm, useWatch } from "react-hook-form";
import type { Schemas } from "../../api/types";
import type { KeptRestore } from "./api";
import { nowSecond } from "../../time/view";
import { Form } from "../../ui/Form";
import { meant, written } from "../../ui/positions";
import { CheckOf, MomentOf, TextOf } from "../../ui/fields";
import { instantOf, typedOf } from "../../time/typed";

type Ended = Schemas["RestoreEnded"];
type Props = { data: KeptRestore; onEnd: (ended: Ended) => Promise<unknown>; onClose: () => void };
type Said = {
  ok: boolean;
  enrol: boolean;
  opened: string;
  reached: string;
  message: string;
  forks: string[];
};

/** The position of a stream its logs stopped at by whoever carried it out, else by the plan, as its engine writes it. */
function at({ plan, course }: KeptRestore, stream: string) {
  const asked = [...(course?.positions ?? []), ...plan.positions].find((p) => p.stream === stream);
  return asked ? written(plan.engine, asked.position) : "";
}

/** How a restore ended: whether it is open, since when, what it reached, and whether it is looked after from now on. */
export function EndForm({ data, onEnd, onClose }: Props) {
  const { plan } = data;
  const { zone } = plan;
  const form = useForm<Said>({
    defaultValues: {
      ok: true,
      enrol: true,
      opened: typedOf(data.course?.opened ?? nowSecond(), zone),
      reached: plan.target ? typedOf(plan.target, zone) : "",
      message: data.course?.reached ? `Carried out on ${data.course.host}, in ${data.course.into}.` : "",
      forks: plan.streams.map((s) => at(data, s)),
    },
  });
  const ok = useWatch({ control: form.control, name: "ok" });
  const missing = (v: Said) => [
    !instantOf(v.opened, zone) && "when",
    v.ok && v.reached.trim() !== "" && !instantOf(v.reached, zone) && "the moment it reached",
    v.ok && data.over && v.forks.some((f) => meant(f.trim()) === null) && "where its logs stopped",
  ];
  const end = (v: Said) =>
    onEnd({
      ok: v.ok,
      reached: v.ok ? (instantOf(v.reached, zone) ?? null) : null,
      opened: instantOf(v.opened, zone) ?? null,
      enrol: v.ok && !data.over && v.enrol,
      lineage: null,
      positions: data.over
        ? plan.streams.map((s, i) => ({ stream: s, position: Number(meant(v.forks[i]?.trim() ?? "")) }))
        : [],
      message: v.message,
    });
  return (
    <Form
      form={form}
      label="How it ended"
      className="mt-4 max-w-[520px] space-y-2"
      text="Enter it"
      missing={missing}
      problem={null}
      onSubmit={end}
      onCancel={onClose}
    >
      <h2 className="text-section">How it ended</h2>
      <CheckOf form={form} name="ok" label={`${data.name} is open`} />
      <MomentOf
        form={form}
        name="opened"
        label={ok ? "Open since" : "Given up at"}
        className="block"
        zone={zone}
      />
      {ok && <MomentOf form={form} name="reached" label="Restored to" className="block" zone={zone} />}
      {ok &&
        data.over &&
        plan.streams.map((s, i) => (
          <TextOf
            key={s}
            form={form}
            name={`forks.${i}`}
            label={`Position of ${s} at which its logs stopped`}
          />
        ))}
      {ok && !data.over && (
        <CheckOf
          form={form}
          name="enrol"
          label={`look after ${data.name} by the same rules as ${plan.name}`}
        />
      )}
      <TextOf form={form} name="message" label="Notes to keep" />
    </Form>
  );
}
