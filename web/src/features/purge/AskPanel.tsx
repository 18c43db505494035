import { useState } from "react";
import { useNavigate } from "react-router";
import { askPurge, type PurgeView } from "./api";
import { useMay } from "../../api/session";
import { count } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { Labelled } from "../../ui/Labelled";
import { ProblemNote } from "../../ui/ProblemNote";
import { Proved } from "./Proved";
import type { Schemas } from "../../api/types";

/** What copies stay for that no rule needs; a star stands for how many copies. */
const KEPT: Record<string, string> = {
  locked: "* with a lock",
  held: "* with a hold",
  stay: "* too young to go",
  promised: "* promised after a disaster",
  shared: "* at another backup's path",
  listed: "* on another list",
  stranded: "* of stranded databases",
  coming: "* waiting for what still arrives",
};

function copies(n: number): string {
  return `${count(n)} ${n === 1 ? "copy" : "copies"}`;
}

/** What was checked of what is chosen, and asking for it. */
export function AskPanel(props: {
  data: PurgeView;
  keys: string[];
  busy: boolean;
  agent: boolean | null;
  leave: (change: (keys: Set<string>) => void) => void;
}) {
  const { data, keys, busy, agent, leave } = props;
  const may = useMay("keeper");
  const navigate = useNavigate();
  const [reason, setReason] = useState("");
  const { run, pending, problem } = useCommand(["purge"]);
  const harmed = data.proofs.filter((p) => p.flaws.length > 0);
  const stay = Object.keys(KEPT)
    .map((how): [string, number] => [
      how,
      data.lines.filter((l) => l.kept === how).reduce((sum, l) => sum + l.count, 0),
    ])
    .filter(([, n]) => n > 0);
  return (
    <section
      aria-label="Checked before you ask"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="proof"
    >
      <h2 className="text-section">Checked before you ask</h2>
      {data.copies === 0 ? (
        <p className="mt-1 text-muted">Nothing is chosen.</p>
      ) : harmed.length > 0 ? (
        harmed.map((p) => <ProofLine key={p.database} p={p} leave={leave} data={data} />)
      ) : (
        <ul className="mt-1 space-y-1">
          <Proved proofs={data.proofs} copies={data.copies} />
          {stay.length > 0 && (
            <li>Left out: {stay.map(([how, n]) => KEPT[how]?.replace("*", copies(n))).join(", ")}</li>
          )}
        </ul>
      )}
      {may && data.copies > 0 && harmed.length === 0 && (
        <form
          aria-label="Ask for approval"
          className="mt-3 space-y-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (!reason.trim()) return;
            void run(
              () =>
                askPurge({
                  store: data.store ?? "all",
                  leftOut: keys,
                  databases: data.databases,
                  reason,
                  hash: data.hash,
                  asOf: data.asOf,
                }),
              (made) => navigate(`/purge/${made.id}`),
            );
          }}
        >
          <Labelled label="Why is room freed?" value={reason} onChange={setReason} />
          <button className="ink-button" disabled={!reason.trim() || busy || pending}>
            Ask for approval
          </button>
        </form>
      )}
      {problem && <ProblemNote error={problem} />}
      <p className="mt-3 text-note text-muted">
        {may
          ? "Nothing is deleted yet. It is proved again when another person approves it, and once more, batch by batch, as it is deleted."
          : "Only keepers can ask for a purge."}{" "}
        {agent === false &&
          "No agent of this store has asked for work lately: its list can be saved and deleted by hand."}
      </p>
    </section>
  );
}

function ProofLine(props: {
  p: Schemas["ProofView"];
  leave: (change: (keys: Set<string>) => void) => void;
  data: Schemas["PurgeView"];
}) {
  const { p, leave, data } = props;
  return (
    <div className="mt-2 border-l-[3px] border-coral pl-3">
      <p className="text-coral-text">
        {p.name}: {p.flaws[0]}.
      </p>
      <button
        className="text-button"
        onClick={() =>
          leave((left) =>
            data.lines.filter((l) => l.database === p.database && l.chosen).forEach((l) => left.add(l.key)),
          )
        }
      >
        Leave {p.name} out
      </button>
    </div>
  );
}
