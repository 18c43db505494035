import { useForm, useWatch } from "react-hook-form";
import { useNavigate } from "react-router";
import { ProblemNote } from "../../ui/ProblemNote";
import { TextOf } from "../../ui/fields";
import { useCommand } from "../../ui/useCommand";
import { keepDraft, putInForce } from "../policies/api";
import { firstPolicy, policyFlaw, type FirstPolicy } from "./steps";

const BEGINS: FirstPolicy = { name: "", loss: "15 min", at: "22:00", every: "10 min", reach: "14 days" };

/** A policy in five values, put in force at once or written out first. */
export function FirstPolicyForm({ onDone }: { onDone: () => void }) {
  const form = useForm({ defaultValues: BEGINS });
  const navigate = useNavigate();
  const { run, pending, problem } = useCommand([]);
  const lacking = policyFlaw(useWatch({ control: form.control }) as FirstPolicy);
  const force = form.handleSubmit((v) => {
    if (lacking) return;
    const policy = firstPolicy(v);
    void run(
      () =>
        putInForce(policy.id ?? "", policy, {
          at: "now",
          why: "the first policy",
          despite: null,
          planned: null,
        }),
      onDone,
    );
  });
  const write = () => {
    const policy = firstPolicy(form.getValues());
    const id = policy.id ?? "";
    void run(
      () => keepDraft(id, policy),
      () => navigate(`/policies/${encodeURIComponent(id)}`),
    );
  };
  return (
    <form aria-label="Policy" noValidate className="mt-2 max-w-[620px]" onSubmit={(e) => void force(e)}>
      <div className="grid grid-cols-2 gap-x-6 gap-y-2">
        <TextOf form={form} name="name" label="Name" />
        <TextOf form={form} name="loss" label="Lose at most, to a mishap" />
        <TextOf form={form} name="at" label="A full every night at" />
        <TextOf form={form} name="every" label="Logs every" />
        <TextOf form={form} name="reach" label="Every moment restorable for" />
      </div>
      {problem && <ProblemNote error={problem} />}
      <div className="mt-3 flex flex-wrap items-baseline gap-3">
        <button className="ink-button" disabled={pending || Boolean(lacking)}>
          Put it in force
        </button>
        <button type="button" className="text-button" disabled={pending || Boolean(lacking)} onClick={write}>
          Write it out first
        </button>
        {lacking && <span className="text-note text-muted">Say {lacking}.</span>}
      </div>
    </form>
  );
}
