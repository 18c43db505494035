import { useState } from "react";
import { useNavigate } from "react-router";
import { isChosen } from "../../api/client";
import { beginRestore, checklist, type RestorePlan, type Wanted } from "./api";
import { useMay } from "../../api/session";
import { size } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { Labelled } from "../../ui/Labelled";
import { ProblemNote } from "../../ui/ProblemNote";
import type { Schemas } from "../../api/types";

/** Where it is restored to, what is needed there, and taking the plan along as a checklist. */
export function WhereTo({ plan, wanted }: { plan: RestorePlan; wanted: Wanted }) {
  const navigate = useNavigate();
  // What was left at another moment is nothing to begin with now.
  const may = useMay("operator") && !isChosen(wanted.asOf);
  const to = plan.destination;
  const [name, setName] = useState(to.name);
  const [host, setHost] = useState(to.host);
  const [paths, setPaths] = useState("");
  const [insists, setInsists] = useState(false);
  const [typed, setTyped] = useState("");
  const { run, pending, problem } = useCommand();
  const mapped = paths
    .split("\n")
    .map((l) => l.split(/\s*->\s*/))
    .filter((p) => p.length === 2 && p[0] && p[1])
    .map(([from, into]) => ({ from: from as string, to: into as string }));
  const shown = insists ? plan.database : name;
  const begin = () =>
    run(
      () =>
        beginRestore(plan.database, wanted, {
          query: window.location.search,
          name: shown,
          host,
          over: insists,
          paths: mapped,
        }),
      (kept) => navigate(`/restore/${kept.id}`),
    );
  return (
    <section aria-label="Where to" className="mt-4 space-y-2">
      <h2 className="text-section">Where to</h2>
      {!insists && <Labelled label="New name" value={name} onChange={setName} />}
      <Labelled label="Host" value={host} onChange={setHost} placeholder="not known" />
      <label className="flex items-baseline gap-2">
        <input type="checkbox" checked={insists} onChange={(e) => setInsists(e.target.checked)} />
        <span>
          over the old {plan.name}
          {insists && <b className="text-coral-text">: what it contains now is lost</b>}
        </span>
      </label>
      {insists && <Labelled label={`Type ${plan.database} to insist`} value={typed} onChange={setTyped} />}
      <details>
        <summary className="text-button">Files lie elsewhere…</summary>
        <label className="mt-1 block text-muted">
          One path a line: /old -&gt; /new
          <textarea
            rows={2}
            className="w-full rounded border border-line bg-panel px-2 py-1 font-mono text-note text-ink"
            value={paths}
            onChange={(e) => setPaths(e.target.value)}
          />
        </label>
      </details>
      <p>
        needs {to.bytes === null ? "room nobody told of" : <b>{size(to.bytes)}</b>}
        {to.keys.length > 0 && (
          <>
            ; keys: <b>{to.keys.join(", ")}</b>
          </>
        )}
      </p>
      {problem && <ProblemNote error={problem} />}
      <BeginRestore
        may={may}
        pending={pending || (insists && typed.trim() !== plan.database)}
        begin={begin}
        plan={plan}
        wanted={wanted}
        shown={shown}
      />
    </section>
  );
}

function BeginRestore(props: {
  may: boolean;
  pending: boolean;
  begin: () => Promise<boolean>;
  plan: Schemas["RestoreView"];
  wanted: Wanted;
  shown: string;
}) {
  const { may, pending, begin, plan, wanted, shown } = props;
  return (
    <div className="flex flex-wrap items-center gap-2">
      {may && (
        <button className="ink-button" disabled={pending} onClick={() => void begin()}>
          Begin the restore
        </button>
      )}
      <a
        className="outline-button"
        href={checklist(plan.database, wanted, "html", shown)}
        target="_blank"
        rel="noreferrer"
      >
        Print the checklist
      </a>
      <a
        className="outline-button"
        href={`/api/sheets/database-${plan.database.replace(/[^A-Za-z0-9._-]/g, "_")}.html`}
        target="_blank"
        rel="noreferrer"
      >
        Recovery sheet
      </a>
      {plan.script && (
        <a
          className="outline-button"
          href={checklist(plan.database, wanted, "sh", shown)}
          download={`${shown}.sh`}
          title="What to do in the engine's own settings and commands, as a script for a POSIX shell"
        >
          Script
        </a>
      )}
      <a
        className="text-button"
        href={checklist(plan.database, wanted, "md", shown)}
        download={`${shown}.md`}
      >
        Markdown
      </a>
      <a
        className="text-button"
        href={checklist(plan.database, wanted, "json", shown)}
        download={`${shown}.json`}
      >
        JSON
      </a>
    </div>
  );
}
