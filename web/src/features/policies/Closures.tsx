import { useState } from "react";
import { useForm, useWatch } from "react-hook-form";
import type { PolicyView } from "../../api/types";
import { stateAll } from "../intake/api";
import { longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { instantOf } from "../../time/typed";
import { MomentOf } from "../../ui/fields";

type Closure = PolicyView["closures"][number];

const instant = (typed: string) => instantOf(typed, viewerZone) ?? null;

/** Stretches in which nothing is to run, and why. They hold from when they are stated, for every version. */
export function Closures({ policy }: { policy: PolicyView }) {
  const [open, setOpen] = useState(false);
  const { run, problem } = useCommand([]);
  const coming = policy.closures.filter((c) => c.to > policy.now);
  const state = (c: Closure) => run(() => stateAll([{ type: "closure", policy: policy.id, ...c }]));
  return (
    <section aria-label="Closures" className="mt-2">
      {coming.map((c) => (
        <p key={c.id} className="sentence">
          Nothing runs from <b>{longMoment(c.from, viewerZone)}</b> to <b>{longMoment(c.to, viewerZone)}</b>
          {c.reason && `: ${c.reason}`}.{" "}
          <button
            className="text-button text-note"
            aria-label={`Lift the closure: ${c.reason}`}
            onClick={() => void state({ ...c, to: c.from < policy.now ? policy.now : c.from })}
          >
            Lift it
          </button>
        </p>
      ))}
      {problem && <ProblemNote error={problem} />}
      {open ? (
        <ClosureForm
          onCancel={() => setOpen(false)}
          onState={(c) => void state(c).then((good) => setOpen(!good))}
        />
      ) : (
        <p className="text-small">
          <button className="text-button" onClick={() => setOpen(true)}>
            Close it for a while…
          </button>
        </p>
      )}
    </section>
  );
}

const closureId = () => `closure:${Date.now().toString(36)}`;

const lackingIn = (v: { from: string; to: string; reason: string }) => {
  const [begin, end] = [instant(v.from), instant(v.to)];
  return [
    begin === null && "from when",
    end === null ? "until when" : begin !== null && end <= begin && "an end after the beginning",
    !v.reason.trim() && "why",
  ].filter(Boolean);
};

function ClosureForm(props: { onState: (c: Closure) => void; onCancel: () => void }) {
  const form = useForm({ defaultValues: { from: "", to: "", reason: "" } });
  const missing = lackingIn({ from: "", to: "", reason: "", ...useWatch({ control: form.control }) });
  const send = form.handleSubmit((v) => {
    const [from, to] = [instant(v.from), instant(v.to)];
    if (lackingIn(v).length > 0 || from === null || to === null) return;
    props.onState({ id: closureId(), from, to, reason: v.reason.trim() });
  });
  return (
    <form
      aria-label="Closure"
      noValidate
      className="mt-1 flex flex-wrap items-center gap-2"
      onSubmit={(e) => void send(e)}
    >
      <MomentOf form={form} name="from" label="Nothing runs from" zone={viewerZone} />
      <MomentOf form={form} name="to" label="to" zone={viewerZone} />
      <label>
        because{" "}
        <input className="rounded border border-line bg-panel px-1.5 py-0.5" {...form.register("reason")} />
      </label>
      <button className="outline-button" disabled={missing.length > 0}>
        Close
      </button>
      <button type="button" className="text-button" onClick={props.onCancel}>
        Cancel
      </button>
      {missing.length > 0 && <span className="text-note text-muted">Say {missing.join(", ")}.</span>}
    </form>
  );
}
