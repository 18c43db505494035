import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { PolicyRow, WrittenDocument } from "../../api/types";
import { useMay } from "../../api/session";
import { draftOf, keepDraft, usePolicies } from "./api";
import { date, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { emptyPolicy, idOf } from "./document";
import { sentences, summary } from "./sentences";

const OUT = [
  ["slots.ics", "firth-slots.ics", "the slots to come as a calendar"],
  ["crontab", "firth.crontab", "crontab lines by host"],
  ["timers", "firth-timers.txt", "systemd timers by host"],
  ["rules.ndjson", "firth-rules.ndjson", "policies, routes and standing rules as a file"],
] as const;

/** All policies: what each promises, who follows it, and how well it is kept. */
export function PoliciesPage() {
  const policies = usePolicies();
  useEffect(() => {
    document.title = "Policies · Firth";
  }, []);
  if (policies.error) return <ProblemNote error={policies.error} />;
  return (
    <main className="px-5 pt-4 pb-10">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-page">Policies</h1>
        <p className="text-muted">What is promised, when backups run and what is retained, as of now</p>
      </div>
      {policies.data && <List rows={policies.data} />}
      <p className="mt-6 flex flex-wrap gap-x-4 border-t border-line pt-3">
        <span className="text-muted">Take out</span>
        {OUT.map(([path, name, words]) => (
          <a key={path} className="text-button" href={`/api/out/${path}`} download={name} title={words}>
            {words}
          </a>
        ))}
      </p>
    </main>
  );
}

function List({ rows }: { rows: PolicyRow[] }) {
  const navigate = useNavigate();
  const { run, problem } = useCommand();
  const create = (name: string, from: () => Promise<WrittenDocument | null>) => {
    const id = idOf(name);
    const begin = async () => {
      const {
        version: _v,
        effectiveFrom: _e,
        putInForce: _p,
        withdrawn: _w,
        ...rules
      } = (await from()) ?? emptyPolicy(id, name);
      await keepDraft(id, { ...rules, id, name });
    };
    void run(begin, () => navigate(`/policies/${encodeURIComponent(id)}`));
  };
  return (
    <>
      {problem && <ProblemNote error={problem} />}
      {rows.length === 0 && (
        <p className="mt-6 max-w-xl">
          There is no policy yet. A policy says how much may be lost, when backups run and what is retained;
          write one below, or drop a fleet file that holds some.
        </p>
      )}
      {rows.map((p) => (
        <Policy
          key={p.id}
          policy={p}
          onCopy={() => create(`${p.name} copy`, () => Promise.resolve(p.document))}
          onCopyDraft={() => create(`${p.name} copy`, () => draftOf(p.id))}
        />
      ))}
      <NewPolicy
        taken={rows.map((r) => r.id)}
        onCreate={(name) => create(name, () => Promise.resolve(null))}
      />
    </>
  );
}

function Policy(props: { policy: PolicyRow; onCopy: () => void; onCopyDraft: () => void }) {
  const { policy, onCopy, onCopyDraft } = props;
  const may = useMay("planner");
  const rhythm = policy.document
    ? sentences(policy.document)
        .filter((s) => s.key.startsWith("schedule"))
        .map((s) => s.text)
    : [];
  return (
    <article className="mt-4 border-t border-line pt-2" aria-label={policy.name} data-policy={policy.id}>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-section">
          <Link className="hover:underline" to={`/policies/${encodeURIComponent(policy.id)}`}>
            {policy.name}
          </Link>
        </h2>
        <span className="text-muted">
          {policy.version === null
            ? "never in force"
            : `version ${policy.version} since ${date(policy.effectiveFrom ?? "", viewerZone)}${
                policy.enabled ? "" : ", switched off"
              }`}
          {policy.nextFrom && ` · the next from ${date(policy.nextFrom, viewerZone)}`}
          {policy.draftSaved && " · a draft is being written"}
        </span>
        {may && (
          <span className="ml-auto flex gap-3">
            {policy.document && (
              <button className="text-button text-small" onClick={onCopy}>
                Copy
              </button>
            )}
            {policy.draftSaved && (
              <button className="text-button text-small" onClick={onCopyDraft}>
                Copy the draft
              </button>
            )}
          </span>
        )}
      </div>
      <div className="grid gap-x-8 lg:grid-cols-[1fr_340px]">
        <div>
          <p>{summary(policy.document)}</p>
          <p className="text-muted">{rhythm.join(" ")}</p>
          {policy.flaws.map((f) => (
            <p key={f.code + f.path} className="mt-1 border-l-[3px] border-ochre pl-2">
              {f.text}
            </p>
          ))}
        </div>
        <p>
          {policy.followers === 0
            ? "Nobody follows it."
            : `${policy.followers} follow it: ${policy.grades
                .map((g) => `${g.databases} ${g.grade}`)
                .join(", ")}.`}
          {policy.attainment !== null && (
            <span className="text-muted">
              {" "}
              Within objective {(Math.floor(policy.attainment * 1000) / 10).toFixed(1)} % of the last 30 days.
            </span>
          )}
        </p>
      </div>
    </article>
  );
}

function NewPolicy({ taken, onCreate }: { taken: string[]; onCreate: (name: string) => void }) {
  const [name, setName] = useState("");
  const id = idOf(name);
  const wrong =
    name !== "" && (id === "" ? "needs a letter or digit" : taken.includes(id) ? "is taken" : null);
  return (
    <form
      className="mt-6 flex flex-wrap items-center gap-3 border-t border-line pt-4"
      onSubmit={(e) => {
        e.preventDefault();
        if (id !== "" && !wrong) onCreate(name.trim());
      }}
    >
      <label className="flex items-center gap-2">
        A new policy named
        <input
          className="rounded border border-line bg-panel px-2 py-1"
          value={name}
          aria-invalid={Boolean(wrong)}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <button className="outline-button" disabled={id === "" || Boolean(wrong)}>
        Write it
      </button>
      {wrong && (
        <span role="alert" className="text-coral-text">
          The name {wrong}.
        </span>
      )}
    </form>
  );
}
