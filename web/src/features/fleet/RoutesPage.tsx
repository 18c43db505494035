import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { FleetChoices, RouteView } from "../../api/types";
import { useChoices } from "./api";
import { stateAll } from "../intake/api";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { count } from "../../time/words";
import { idOf } from "./records";

type Stops = "data" | "log" | "copies";

/** Where data backups, logs and copies go; apart from policies, so that one policy serves every site. */
export function RoutesPage() {
  const fleet = useChoices();
  useEffect(() => {
    document.title = "Routes · Firth";
  }, []);
  if (fleet.error) return <ProblemNote error={fleet.error} />;
  if (!fleet.data) return <main className="px-5 py-6 text-muted">…</main>;
  return <Routes fleet={fleet.data} />;
}

function Routes({ fleet }: { fleet: FleetChoices }) {
  const [name, setName] = useState("");
  const [made, setMade] = useState<RouteView[]>([]);
  const id = idOf(name);
  const taken = [...fleet.routes, ...made].some((r) => r.id === id || r.name === name.trim());
  const own = made.filter((m) => !fleet.routes.some((r) => r.id === m.id));
  return (
    <main className="max-w-[1000px] px-5 pt-4 pb-10">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-page">Routes</h1>
        <p className="text-muted">
          Where backups go, apart from policies, so that one policy serves every site
        </p>
        <Link className="text-button ml-auto" to="/fleet">
          Back to the fleet
        </Link>
      </div>
      {[...fleet.routes, ...own].map((r) => (
        <RouteForm key={JSON.stringify(r)} route={r} fresh={own.includes(r)} stores={fleet.stores} />
      ))}
      {fleet.stores.length === 0 && (
        <p className="mt-4 text-muted">No stores are known yet; import a fleet file that names them.</p>
      )}
      <form
        className="mt-5 flex items-center gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (!id || taken) return;
          setMade([
            ...made,
            { id, name: name.trim(), data: [], log: [], copies: [], takers: [], takenBy: 0 },
          ]);
          setName("");
        }}
      >
        <label className="flex items-center gap-2">
          A new route named
          <input
            className="rounded border border-line bg-panel px-2 py-1"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        </label>
        <button className="outline-button" disabled={!id || taken}>
          Begin it
        </button>
        {name.trim() && taken && <span className="text-coral-text">That name is taken.</span>}
      </form>
    </main>
  );
}

function RouteForm(props: { route: RouteView; fresh: boolean; stores: { id: string; name: string }[] }) {
  const { route, fresh, stores } = props;
  const { takers, takenBy } = route;
  const [stated, setStated] = useState(route);
  const { run, pending, problem } = useCommand([]);
  const changed = fresh || JSON.stringify(stated) !== JSON.stringify(route);
  const part = (stops: Stops, before: string, then: string) => (
    <StopList
      label={`${route.name}: ${stops}`}
      before={before}
      then={then}
      stops={stated[stops]}
      stores={stores}
      onChange={(next) => setStated({ ...stated, [stops]: next })}
    />
  );
  const { id, name, data, log, copies } = stated;
  const keep = () => run(() => stateAll([{ type: "route", id, name, data, log, copies }]));
  return (
    <section className="mt-4 border-t border-line pt-3" aria-label={route.name} data-route={route.id}>
      <h2 className="text-section">{route.name}</h2>
      <div className="mt-1 flex flex-col gap-1.5">
        {part("data", "Data backups go to", "else to")}
        {part("log", "Logs go to", "else to")}
        {part("copies", "Each is copied to", "and to")}
      </div>
      <p className="mt-1 text-note text-muted">
        {takers.length === 0
          ? "No database uses it."
          : `Taken by ${takers.join(", ")}${takenBy > takers.length ? ` and ${count(takenBy - takers.length)} more` : ""}.`}
        {stated.data.length === 0 && " Without a first store for data backups nothing can go there."}
      </p>
      {problem && <ProblemNote error={problem} />}
      {changed && (
        <div className="mt-2 flex gap-3">
          <button
            className="ink-button"
            disabled={pending || stated.data.length === 0}
            onClick={() => void keep()}
          >
            Keep
          </button>
          {!fresh && (
            <button className="text-button" onClick={() => setStated(route)}>
              As it was
            </button>
          )}
        </div>
      )}
    </section>
  );
}

/** Stores in order; each once. */
function StopList(props: {
  label: string;
  before: string;
  then: string;
  stops: string[];
  stores: { id: string; name: string }[];
  onChange: (stops: string[]) => void;
}) {
  const { label, before, then, stops, stores, onChange } = props;
  const left = stores.filter((s) => !stops.includes(s.id));
  const name = (id: string) => stores.find((s) => s.id === id)?.name ?? id;
  return (
    <p className="flex flex-wrap items-center gap-2">
      <span>{before}</span>
      {stops.length === 0 && (
        <span className="text-muted">{label.endsWith("log") ? "where data goes" : "nowhere"}</span>
      )}
      {stops.map((id, i) => (
        <span key={id} className="flex items-center gap-2">
          {i > 0 && <span className="text-muted">{then}</span>}
          <span className="border-b-2 border-water-2 font-semibold">{name(id)}</span>
          <button
            className="text-button text-note"
            aria-label={`${label}: not ${name(id)}`}
            onClick={() => onChange(stops.filter((s) => s !== id))}
          >
            Remove
          </button>
        </span>
      ))}
      {left.length > 0 && (
        <select
          aria-label={`${label}: add`}
          className="rounded border border-line bg-panel px-1.5 py-0.5 text-muted"
          value=""
          onChange={(e) => onChange([...stops, e.target.value])}
        >
          <option value="">{stops.length === 0 ? "a store…" : `${then}…`}</option>
          {left.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
      )}
    </p>
  );
}
