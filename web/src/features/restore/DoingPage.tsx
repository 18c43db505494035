import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { endRestore, tickLine, useRestore, type KeptRestore } from "./api";
import { useMay } from "../../api/session";
import { duration, longMoment, promise } from "../../time/words";
import { written } from "../../ui/positions";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { ByMachine } from "./ByMachine";
import { EndForm } from "./EndForm";

const positionsOf = (plan: KeptRestore["plan"]) =>
  plan.positions.map((p) => `position ${written(plan.engine, p.position)} of ${p.stream}`).join(", ");

/** A restore under way: its checklist, ticked off line by line, and how it ends. */
export function DoingPage() {
  const { id = "" } = useParams();
  const { data, error } = useRestore(id);
  const queries = useQueryClient();
  const { run, problem } = useCommand(["restore", "begun"]);
  const [ending, setEnding] = useState(false);
  const may = useMay("operator");
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return null;
  const then = (act: () => Promise<KeptRestore>) =>
    run(act, (kept) => queries.setQueryData(["restore", "one", id], kept));
  const { plan } = data;
  const path = `/api/restore/begun/${encodeURIComponent(id)}/checklist`;
  return (
    <main className="px-5 py-3">
      <p>
        <Link className="text-button" to={`/restore?database=${encodeURIComponent(plan.database)}`}>
          Restore
        </Link>
      </p>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-page leading-tight">
          {plan.name} as {data.name}
        </h1>
        <span className="text-muted">
          {plan.target ? `to ${longMoment(plan.target, plan.zone)}` : `to ${positionsOf(plan)}`} ({plan.zone}
          ), begun by {data.by}, {longMoment(data.at, plan.zone)}
        </span>
        <span className="ml-auto flex gap-3">
          <a className="outline-button" href={`${path}.html`} target="_blank" rel="noreferrer">
            Print
          </a>
          <a className="text-button self-center" href={`${path}.md`} download={`${id}.md`}>
            Markdown
          </a>
          <a className="text-button self-center" href={`${path}.json`} download={`${id}.json`}>
            JSON
          </a>
        </span>
      </div>
      {problem && <ProblemNote error={problem} />}
      <Progress data={data} />
      <ByMachine data={data} may={may} />
      <div className="max-w-[860px]">
        {plan.destination.states.map((state) => (
          <Lines
            key={state.id}
            title={state.text}
            data={data}
            items={data.items.filter((i) => i.state === state.id)}
            onTick={may && !data.ended ? (item, done) => void then(() => tickLine(id, item, done)) : null}
          />
        ))}
      </div>
      {may && !data.ended && !ending && (
        <p className="mt-4">
          <button className="ink-button" onClick={() => setEnding(true)}>
            Enter how it ended…
          </button>
        </p>
      )}
      {ending && !data.ended && (
        <EndForm
          data={data}
          onEnd={async (ended) => {
            if (await then(() => endRestore(id, ended))) setEnding(false);
          }}
          onClose={() => setEnding(false)}
        />
      )}
    </main>
  );
}

function Progress({ data }: { data: KeptRestore }) {
  const done = data.items.filter((i) => i.done);
  const last = done
    .map((i) => i.done as string)
    .sort()
    .at(-1);
  const expected = data.plan.ways[0]?.seconds ?? 0;
  return (
    <p className="mt-1" data-testid="restore-progress">
      {data.ended ? (
        <b>{data.ended.ok ? "Done" : "Given up"}. </b>
      ) : (
        <b>
          {done.length} of {data.items.length} lines done.{" "}
        </b>
      )}
      {last &&
        `The last was done ${duration((Date.parse(last) - Date.parse(data.at)) / 1000)} after the beginning; `}
      expected {duration(expected)}
      {data.plan.promised !== null && `, promised ${promise(data.plan.promised)}`}.
      {data.ended?.message && ` ${data.ended.message}`}
    </p>
  );
}

type LinesProps = {
  title: string;
  data: KeptRestore;
  items: KeptRestore["items"];
  onTick: ((item: string, done: boolean) => void) | null;
};

function Lines({ title, data, items, onTick }: LinesProps) {
  if (items.length === 0) return null;
  return (
    <section aria-label={title} className="mt-3">
      <h2 className="text-section">{title}</h2>
      <ul>
        {items.map((i) => (
          <li key={i.id} className="border-b border-line py-1">
            <label className="flex items-baseline gap-2.5">
              <input
                type="checkbox"
                checked={i.done !== null}
                disabled={onTick === null}
                onChange={(e) => onTick?.(i.id, e.target.checked)}
              />
              <span>
                {i.text}
                {Object.entries(i.details).map(([name, value]) => (
                  <span key={name} className="block font-mono text-note break-all text-muted">
                    {name}: {value}
                  </span>
                ))}
              </span>
              {i.done && (
                <span className="ml-auto text-note whitespace-nowrap text-muted">
                  after {duration((Date.parse(i.done) - Date.parse(data.at)) / 1000)}, {i.by}
                </span>
              )}
            </label>
          </li>
        ))}
      </ul>
    </section>
  );
}
