import { useState } from "react";
import type { PolicyView } from "../../api/types";
import { stateAll } from "../intake/api";
import { longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { instantOf } from "../../time/typed";
import { MomentField } from "../../ui/Typed";

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
            className="text-button text-[12px]"
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
        <p className="text-[13px]">
          <button className="text-button" onClick={() => setOpen(true)}>
            Close it for a while…
          </button>
        </p>
      )}
    </section>
  );
}

function ClosureForm(props: { onState: (c: Closure) => void; onCancel: () => void }) {
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [reason, setReason] = useState("");
  const [begin, end] = [instant(from), instant(to)];
  const missing = [
    begin === null && "from when",
    end === null ? "until when" : begin !== null && end <= begin && "an end after the beginning",
    !reason.trim() && "why",
  ].filter(Boolean);
  const field = "rounded border border-line bg-panel px-1.5 py-0.5";
  return (
    <form
      aria-label="Closure"
      className="mt-1 flex flex-wrap items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (missing.length > 0 || begin === null || end === null) return;
        props.onState({
          id: `closure:${Date.now().toString(36)}`,
          from: begin,
          to: end,
          reason: reason.trim(),
        });
      }}
    >
      <MomentField label="Nothing runs from" zone={viewerZone} value={from} onChange={setFrom} />
      <MomentField label="to" zone={viewerZone} value={to} onChange={setTo} />
      <label>
        because <input className={field} value={reason} onChange={(e) => setReason(e.target.value)} />
      </label>
      <button className="outline-button" disabled={missing.length > 0}>
        Close
      </button>
      <button type="button" className="text-button" onClick={props.onCancel}>
        Cancel
      </button>
      {missing.length > 0 && <span className="text-[12px] text-muted">Say {missing.join(", ")}.</span>}
    </form>
  );
}
