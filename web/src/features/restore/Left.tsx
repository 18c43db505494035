import { useSearchParams } from "react-router";
import type { RestorePlan, Wanted } from "./api";
import { longMoment, moment } from "../../time/words";
import { Choice } from "../../ui/Choice";
import type { Schemas } from "../../api/types";

/** What can still be reached; untick something and the plan follows. */
export function Left({ plan, wanted }: { plan: RestorePlan; wanted: Wanted }) {
  const [, setParams] = useSearchParams();
  const turn = (key: string, value: string) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        const lost = next.getAll(key);
        next.delete(key);
        (lost.includes(value) ? lost.filter((v) => v !== value) : [...lost, value]).forEach((v) =>
          next.append(key, v),
        );
        return next;
      },
      { replace: true },
    );
  const set = (name: string, value: string) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) next.set(name, value);
        else next.delete(name);
        return next;
      },
      { replace: true },
    );
  const lostStores = wanted.store ?? [];
  const lostSites = wanted.site ?? [];
  const lostCopies = wanted.copy ?? [];
  const sites = [
    ...new Map(plan.places.filter((p) => p.siteId).map((p) => [p.siteId as string, p.site])).entries(),
  ];
  const chain = plan.ways[0]?.steps.filter((s) => s.kind !== "log") ?? [];
  return (
    <section aria-label="What is left?">
      <h2 className="text-section">What is left?</h2>
      <p className="text-muted">Untick what cannot be reached; the plan follows.</p>
      <ul className="mt-1">
        {plan.places.map((p) => (
          <StoreLeft key={p.store} p={p} lostSites={lostSites} lostStores={lostStores} turn={turn} />
        ))}
      </ul>
      {sites.length > 0 && (
        <p className="mt-1.5 flex flex-wrap gap-x-4">
          {sites.map(([id, name]) => (
            <label key={id} className="flex items-baseline gap-1.5">
              <input
                type="checkbox"
                checked={!lostSites.includes(id)}
                onChange={() => turn("lostSite", id)}
              />
              all of {name}
            </label>
          ))}
        </p>
      )}
      <HazardAndMost wanted={wanted} set={set} plan={plan} />
      {chain.length > 0 && <CopiesLeft chain={chain} turn={turn} plan={plan} />}
      {lostCopies.length > 0 && (
        <div className="mt-2 border-l-[3px] border-ochre pl-3">
          <p>Taken not to read:</p>
          {lostCopies.map((c) => (
            <label key={c} className="flex items-baseline gap-2">
              <input type="checkbox" checked={false} onChange={() => turn("lostCopy", c)} />
              <span className="font-mono text-note break-all">{c.slice(c.indexOf("|") + 1)}</span>
              <span className="ml-auto text-muted">
                {plan.places.find((p) => p.store === c.slice(0, c.indexOf("|")))?.name}
              </span>
            </label>
          ))}
        </div>
      )}
      <Proof plan={plan} />
    </section>
  );
}

function StoreLeft(props: {
  p: Schemas["PlanPlace"];
  lostSites: string[];
  lostStores: string[];
  turn: (key: string, value: string) => void;
}) {
  const { p, lostSites, lostStores, turn } = props;

  const site = p.siteId !== null && lostSites.includes(p.siteId);
  return (
    <li className="border-b border-line py-1">
      <label className="flex items-baseline gap-2.5">
        <input
          type="checkbox"
          checked={!site && !lostStores.includes(p.store)}
          disabled={site}
          onChange={() => turn("lostStore", p.store)}
        />
        <span className="font-semibold">{p.name}</span>
        <span className="ml-auto text-muted">{[p.site, p.medium].filter(Boolean).join(", ")}</span>
      </label>
    </li>
  );
}

function HazardAndMost(props: {
  wanted: Wanted;
  set: (name: string, value: string) => void;
  plan: Schemas["RestoreView"];
}) {
  const { wanted, set, plan } = props;
  return (
    <div className="mt-1.5 flex flex-wrap gap-x-4 gap-y-1">
      <Choice
        label="After"
        value={wanted.hazard ?? ""}
        options={[
          ["", "a mishap"],
          ["siteLoss", "loss of its site"],
          ["sabotage", "sabotage: only locked copies"],
        ]}
        onChange={(v) => set("hazard", v)}
      />
      {plan.components.length > 0 && (
        <Choice
          label="Restore"
          value={wanted.component ?? ""}
          options={[["", "all of it"], ...plan.components.map((c): [string, string] => [c, `only ${c}`])]}
          onChange={(v) => set("component", v)}
        />
      )}
    </div>
  );
}

function CopiesLeft(props: {
  chain: Schemas["PlanStep"][];
  turn: (key: string, value: string) => void;
  plan: Schemas["RestoreView"];
}) {
  const { chain, turn, plan } = props;
  return (
    <details className="mt-2">
      <summary className="text-button">A copy does not read…</summary>
      <ul className="mt-1">
        {chain.flatMap((s) =>
          s.copies.map((c) => (
            <li key={s.backup + c.store}>
              <label className="flex items-baseline gap-2">
                <input type="checkbox" checked onChange={() => turn("lostCopy", `${c.store}|${s.backup}`)} />
                <span className="font-mono text-note break-all">{s.backup}</span>
                <span className="ml-auto whitespace-nowrap text-muted">
                  {c.storeName}
                  {s.at ? `, ${moment(s.at, plan.zone)}` : ""}
                </span>
              </label>
            </li>
          )),
        )}
      </ul>
    </details>
  );
}

function Proof({ plan }: { plan: RestorePlan }) {
  const proof = plan.proof;
  return (
    <>
      <h2 className="mt-4 text-section">Last proof</h2>
      {proof === null ? (
        <p>No drill has proved yet that it can be restored.</p>
      ) : (
        <p>
          Drill of {longMoment(proof.at, plan.zone)}
          {proof.took !== null && ` took ${Math.round(proof.took / 60)} min`}
          {proof.expected !== null && ` for ${Math.round(proof.expected / 60)} expected`}
          {proof.checks.length > 0 && `; checked: ${proof.checks.join(", ")}`}.
        </p>
      )}
    </>
  );
}
