import { useState } from "react";
import { useMay } from "../../api/session";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { idOf } from "../fleet/records";
import { FOLLOWS_PLACES, statePlace, type Place } from "./api";
import { UsedBy } from "./UsedBy";

type Stops = "data" | "log" | "copies";

/** Where data backups, logs and copies go; apart from policies, so that one policy serves every site. */
export function Routes({ routes, stores }: { routes: Place[]; stores: Place[] }) {
  const may = useMay("planner");
  const [name, setName] = useState("");
  const [made, setMade] = useState<Place[]>([]);
  const id = idOf(name);
  const taken = [...routes, ...made].some((r) => r.id === id || r.name === name.trim());
  const own = made.filter((m) => !routes.some((r) => r.id === m.id));
  return (
    <>
      {[...routes.filter((r) => !r.retired), ...own].map((r) => (
        <RouteForm key={JSON.stringify(r)} route={r} fresh={own.includes(r)} stores={stores} />
      ))}
      {may && (
        <form
          className="mt-4 flex items-center gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            if (!id || taken) return;
            setMade([...made, begun(id, name.trim())]);
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
      )}
    </>
  );
}

/** One that goes nowhere yet. */
const begun = (id: string, name: string): Place => ({
  id,
  name,
  retired: null,
  document: { id, name },
  usedBy: { stores: [], routes: [], standing: [], databases: [], databasesAll: 0 },
});

/** A route as it reads, each of its stores to be changed where it stands. */
export function RouteForm(props: { route: Place; fresh: boolean; stores: Place[] }) {
  const { route, fresh, stores } = props;
  const [stated, setStated] = useState<Record<string, unknown>>(route.document);
  const { run, pending, problem } = useCommand(...FOLLOWS_PLACES);
  const changed = fresh || JSON.stringify(stated) !== JSON.stringify(route.document);
  const may = useMay("planner");
  const stops = (of: Stops) => (stated[of] as string[] | undefined) ?? [];
  const part = (of: Stops, before: string, then: string) => (
    <StopList
      label={`${route.name}: ${of}`}
      before={before}
      then={then}
      stops={stops(of)}
      stores={stores}
      may={may}
      onChange={(next) => setStated({ ...stated, [of]: next })}
    />
  );
  const nowhere = stops("data").length === 0;
  return (
    <section className="mt-3 border-t border-line pt-2" aria-label={route.name} data-route={route.id}>
      <h3 className="font-semibold">{route.name}</h3>
      <div className="mt-1 flex flex-col gap-1.5">
        {part("data", "Data backups go to", "else to")}
        {part("log", "Logs go to", "else to")}
        {part("copies", "Each is copied to", "and to")}
      </div>
      {nowhere && (
        <p className="mt-1 text-note text-muted">
          Without a first store for data backups nothing can go there.
        </p>
      )}
      {problem && <ProblemNote error={problem} />}
      {changed ? (
        <div className="mt-2 flex gap-3">
          <button
            className="ink-button"
            disabled={pending || nowhere}
            onClick={() => void run(() => statePlace("route", stated, fresh))}
          >
            Keep
          </button>
          {!fresh && (
            <button className="text-button" onClick={() => setStated(route.document)}>
              As it was
            </button>
          )}
        </div>
      ) : (
        <UsedBy type="route" place={route} />
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
  stores: Place[];
  may: boolean;
  onChange: (stops: string[]) => void;
}) {
  const { label, before, then, stops, stores, may, onChange } = props;
  const left = stores.filter((s) => !s.retired && !stops.includes(s.id));
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
          {may && (
            <button
              className="text-button text-note"
              aria-label={`${label}: not ${name(id)}`}
              onClick={() => onChange(stops.filter((s) => s !== id))}
            >
              Remove
            </button>
          )}
        </span>
      ))}
      {may && left.length > 0 && (
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
