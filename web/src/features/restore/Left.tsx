import { useSearchParams } from "react-router";
import type { RestorePlan, Wanted } from "./api";
import { longMoment, moment } from "../../time/words";
import { Choice } from "../../ui/Choice";

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
      <h2 className="text-[18px]">What is left?</h2>
      <p className="text-muted">Untick what cannot be reached; the plan follows.</p>
      <ul className="mt-1">
        {plan.places.map((p) => {
          const site = p.siteId !== null && lostSites.includes(p.siteId);
          return (
            <li key={p.store} className="border-b border-line py-1">
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
        })}
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
      {chain.length > 0 && (
        <details className="mt-2">
          <summary className="text-button">A copy does not read…</summary>
          <ul className="mt-1">
            {chain.flatMap((s) =>
              s.copies.map((c) => (
                <li key={s.backup + c.store}>
                  <label className="flex items-baseline gap-2">
                    <input
                      type="checkbox"
                      checked
                      onChange={() => turn("lostCopy", `${c.store}|${s.backup}`)}
                    />
                    <span className="font-mono text-[12px] break-all">{s.backup}</span>
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
      )}
      {lostCopies.length > 0 && (
        <div className="mt-2 border-l-[3px] border-ochre pl-3">
          <p>Taken not to read:</p>
          {lostCopies.map((c) => (
            <label key={c} className="flex items-baseline gap-2">
              <input type="checkbox" checked={false} onChange={() => turn("lostCopy", c)} />
              <span className="font-mono text-[12px] break-all">{c.slice(c.indexOf("|") + 1)}</span>
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

function Proof({ plan }: { plan: RestorePlan }) {
  const proof = plan.proof;
  return (
    <>
      <h2 className="mt-4 text-[18px]">Last proof</h2>
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
