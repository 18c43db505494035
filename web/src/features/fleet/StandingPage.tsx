import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { FleetChoices, Schemas, Standing } from "../../api/types";
import { useChoices, useFalls } from "./api";
import { stateAll } from "../intake/api";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { count } from "../../time/words";
import { readLabels } from "./records";
import type { UseQueryResult } from "@tanstack/react-query";

type Falling = Schemas["FallsView"];
type FallsGroup = Schemas["FallsGroup"];

/** The ordered rules that give new databases a policy and a route, and who falls where under them. */
export function StandingPage() {
  const fleet = useChoices();
  useEffect(() => {
    document.title = "Standing assignment · Firth";
  }, []);
  if (fleet.error) return <ProblemNote error={fleet.error} />;
  if (!fleet.data) return <main className="px-5 py-6 text-muted">…</main>;
  return <Rules key={JSON.stringify(fleet.data.standing)} fleet={fleet.data} />;
}

const EMPTY: Omit<Standing, "id" | "order"> = {
  labels: {},
  engine: null,
  site: null,
  system: null,
  name: null,
  policy: null,
  route: null,
  enabled: true,
};

function Rules({ fleet }: { fleet: FleetChoices }) {
  const [rules, setRules] = useState<Standing[]>(fleet.standing);
  const [labels, setLabels] = useState<Record<string, string>>({});
  const { run, pending, problem } = useCommand([]);
  const ordered = rules.map((r, i) => ({ ...r, order: i + 1 }));
  const falls = useFalls(ordered);
  const changed =
    JSON.stringify(ordered) !== JSON.stringify(fleet.standing.map((r, i) => ({ ...r, order: i + 1 })));
  const idle = ordered.filter((r) => !r.policy && !r.route);
  const change = (id: string, part: Partial<Standing>) =>
    setRules(rules.map((r) => (r.id === id ? { ...r, ...part } : r)));
  const move = (at: number, by: number) => {
    const next = [...rules];
    const [taken] = next.splice(at, 1);
    if (taken) next.splice(at + by, 0, taken);
    setRules(next);
  };
  const add = () => {
    let n = rules.length + 1;
    while (rules.some((r) => r.id === `rule-${n}`)) n++;
    setRules([...rules, { ...EMPTY, id: `rule-${n}`, order: n }]);
  };
  const save = () => run(() => stateAll(ordered.map(record), (bad) => `Rule ${bad.line}: `));
  return (
    <main className="px-5 pt-4 pb-10">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-page">Standing assignment</h1>
        <p className="text-muted">
          What a new database follows by itself. The first rule it falls under counts; those already assigned
          stay as they are.
        </p>
        <Link className="text-button ml-auto" to="/fleet">
          Back to the fleet
        </Link>
      </div>
      {problem && <ProblemNote error={problem} />}
      <table className="mt-3 w-full" data-testid="standing">
        <RuleHeads />
        <tbody>
          {ordered.map((r, i) => (
            <RuleRow
              key={r.id}
              labels={labels}
              r={r}
              i={i}
              change={change}
              move={move}
              rules={rules}
              fleet={fleet}
              setLabels={setLabels}
              falls={falls}
            />
          ))}
        </tbody>
      </table>
      <RulesFoot
        add={add}
        pending={pending}
        changed={changed}
        idle={idle}
        save={save}
        setRules={setRules}
        fleet={fleet}
      />
      <Preview fleet={fleet} falling={falls.data} />
    </main>
  );
}

function RuleHeads() {
  return (
    <thead className="text-left text-note text-muted">
      <tr>
        {["", "name like", "engine", "site", "system", "labels", "then policy", "and route", "on", ""].map(
          (h, i) => (
            <th key={i} className="pr-2 font-normal">
              {h}
            </th>
          ),
        )}
      </tr>
    </thead>
  );
}

/** One rule, each of its cells to be changed in place. */
function RuleRow(props: {
  labels: Record<string, string>;
  r: Standing;
  i: number;
  change: (id: string, part: Partial<Standing>) => void;
  move: (at: number, by: number) => void;
  rules: Standing[];
  fleet: FleetChoices;
  setLabels: (next: Record<string, string>) => void;
  falls: UseQueryResult<Falling>;
}) {
  const { labels, r, i, change, move, rules, fleet, setLabels, falls } = props;

  const text =
    labels[r.id] ??
    Object.entries(r.labels)
      .map(([k, v]) => `${k}=${v}`)
      .join(", ");
  const read = readLabels(text);
  return (
    <tr className="border-t border-line align-top">
      <OrderCell at={i} last={rules.length - 1} onMove={(by) => move(i, by)} />
      <TextCell
        label={`Rule ${i + 1}: name like`}
        value={r.name}
        onChange={(name) => change(r.id, { name })}
      />
      <TextCell
        label={`Rule ${i + 1}: engine`}
        value={r.engine}
        onChange={(engine) => change(r.id, { engine })}
      />
      <ListCell
        label={`Rule ${i + 1}: site`}
        value={r.site}
        options={fleet.sites}
        onChange={(site) => change(r.id, { site })}
      />
      <TextCell
        label={`Rule ${i + 1}: system`}
        value={r.system}
        onChange={(system) => change(r.id, { system })}
      />
      <LabelsCell i={i} read={read} text={text} setLabels={setLabels} labels={labels} r={r} change={change} />
      <ListCell
        label={`Rule ${i + 1}: policy`}
        value={r.policy}
        options={fleet.policies}
        onChange={(policy) => change(r.id, { policy })}
      />
      <ListCell
        label={`Rule ${i + 1}: route`}
        value={r.route}
        options={fleet.routes}
        onChange={(route) => change(r.id, { route })}
      />
      <td className="py-1 pr-2">
        <input
          type="checkbox"
          aria-label={`Rule ${i + 1}: switched on`}
          checked={r.enabled}
          onChange={(e) => change(r.id, { enabled: e.target.checked })}
        />
      </td>
      <td className="py-1 text-note text-muted">{falls.data ? count(falls.data.first[r.id] ?? 0) : "…"}</td>
    </tr>
  );
}

function OrderCell({ at, last, onMove }: { at: number; last: number; onMove: (by: number) => void }) {
  return (
    <td className="py-1 pr-2 whitespace-nowrap">
      {at + 1}{" "}
      <button aria-label={`Rule ${at + 1} up`} disabled={at === 0} onClick={() => onMove(-1)}>
        ↑
      </button>{" "}
      <button aria-label={`Rule ${at + 1} down`} disabled={at === last} onClick={() => onMove(1)}>
        ↓
      </button>
    </td>
  );
}

type CellProps = { label: string; value: string | null; onChange: (value: string | null) => void };

function TextCell({ label, value, onChange }: CellProps) {
  return (
    <td className="py-1 pr-2">
      <input
        aria-label={label}
        className="w-full min-w-[90px] rounded border border-line bg-panel px-1.5 py-0.5"
        value={value ?? ""}
        onChange={(e) => onChange(e.target.value || null)}
      />
    </td>
  );
}

function ListCell({
  label,
  value,
  options,
  onChange,
}: CellProps & { options: { id: string; name: string }[] }) {
  return (
    <td className="py-1 pr-2">
      <select
        aria-label={label}
        className="rounded border border-line bg-panel px-1 py-0.5"
        value={value ?? ""}
        onChange={(e) => onChange(e.target.value || null)}
      >
        <option value=""></option>
        {options.map((o) => (
          <option key={o.id} value={o.id}>
            {o.name}
          </option>
        ))}
      </select>
    </td>
  );
}

function LabelsCell(props: {
  i: number;
  read: string | Record<string, string>;
  text: string;
  setLabels: (next: Record<string, string>) => void;
  labels: Record<string, string>;
  r: Standing;
  change: (id: string, part: Partial<Standing>) => void;
}) {
  const { i, read, text, setLabels, labels, r, change } = props;
  return (
    <td className="py-1 pr-2">
      <input
        aria-label={`Rule ${i + 1}: labels`}
        aria-invalid={typeof read === "string"}
        className="w-full min-w-[120px] rounded border border-line bg-panel px-1.5 py-0.5"
        value={text}
        onChange={(e) => {
          setLabels({ ...labels, [r.id]: e.target.value });
          const next = readLabels(e.target.value);
          if (typeof next !== "string") change(r.id, { labels: next });
        }}
      />
      {typeof read === "string" && (
        <span role="alert" className="text-note text-coral-text">
          It {read}.
        </span>
      )}
    </td>
  );
}

function RulesFoot(props: {
  add: () => void;
  pending: boolean;
  changed: boolean;
  idle: Standing[];
  save: () => Promise<boolean>;
  setRules: (next: Standing[]) => void;
  fleet: FleetChoices;
}) {
  const { add, pending, changed, idle, save, setRules, fleet } = props;
  return (
    <div className="mt-3 flex items-center gap-3">
      <button className="text-button" onClick={add}>
        Add a rule
      </button>
      <button
        className="ink-button"
        disabled={pending || !changed || idle.length > 0}
        onClick={() => void save()}
      >
        Keep these rules
      </button>
      {changed && (
        <button className="text-button" onClick={() => setRules(fleet.standing)}>
          Undo
        </button>
      )}
      {idle.length > 0 && <span className="text-note text-muted">Each rule gives a policy or a route.</span>}
    </div>
  );
}

function record(r: Standing): object {
  const when = Object.fromEntries(
    Object.entries({ engine: r.engine, site: r.site, system: r.system, name: r.name }).filter(([, v]) => v),
  );
  return {
    type: "standing",
    id: r.id,
    order: r.order,
    when: { ...when, ...(Object.keys(r.labels).length > 0 ? { labels: r.labels } : {}) },
    ...(r.policy ? { policy: r.policy } : {}),
    ...(r.route ? { route: r.route } : {}),
    enabled: r.enabled,
  };
}

/** Whom a group of the preview holds; first those that need a look. */
function titled(g: FallsGroup, policy: (id: string | null) => string): [number, string] {
  if (g.divided) return [0, "in two rules at once"];
  return g.rules ? [2, policy(g.wouldFollow)] : [1, "under no rule"];
}

function Preview({ fleet, falling }: { fleet: FleetChoices; falling: Falling | undefined }) {
  const policy = (id: string | null) => fleet.policies.find((p) => p.id === id)?.name ?? id ?? "none";
  const groups = (falling?.groups ?? []).map((g) => ({ g, title: titled(g, policy) }));
  groups.sort((a, b) => a.title[0] - b.title[0] || a.title[1].localeCompare(b.title[1]));
  return (
    <section className="mt-6" aria-label="Who falls where" data-testid="falls">
      <h2 className="text-section">Who falls where</h2>
      {groups.map(({ g, title: [, title] }) => (
        <p key={title} className="mt-1 border-t border-line pt-1">
          <b>{title}</b>{" "}
          {g.some.map((f, i) => (
            <span key={f.database}>
              {i > 0 && ", "}
              {f.name}
              {g.divided && <span className="text-muted"> ({f.rules.join(", ")})</span>}
              {g.rules && !g.divided && f.policy !== g.wouldFollow && (
                <span className="text-ochre-text"> (follows {policy(f.policy)})</span>
              )}
            </span>
          ))}
          {g.databases > g.some.length && ` and ${count(g.databases - g.some.length)} more`}
        </p>
      ))}
    </section>
  );
}
