import { useEffect } from "react";
import { Link } from "react-router";
import type { Row } from "../../api/types";
import { useMay } from "../../api/session";
import { count, duration, timeOfDay } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { useCommand } from "../../ui/useCommand";
import { askFault, useLive, usePromised, type Fault, type Truth } from "./api";

/** Faults to try on the small real fleet, and what its databases say beside what Firth promises of them. */
export function LivePage() {
  const { data, error } = useLive();
  const promised = usePromised((data?.truth ?? []).map((t) => t.database));
  useEffect(() => {
    document.title = "Faults to try · Firth";
  }, []);
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return <main className="h-96 animate-pulse px-5 py-6" aria-busy />;
  return (
    <main className="px-5 pt-3 pb-10">
      <h1 className="text-page leading-tight">Faults to try</h1>
      <p className="max-w-3xl text-muted">
        A PostgreSQL, a MariaDB and a SQLite file run on this machine, with Firth&apos;s runner, an agent at
        each store and a drill host. A row is committed to each every three seconds. Break something here, and
        see on{" "}
        <Link className="text-button" to="/watch">
          Watch
        </Link>{" "}
        and{" "}
        <Link className="text-button" to="/cover">
          Cover
        </Link>{" "}
        what Firth makes of it.
      </p>
      {data.faults.length === 0 && (
        <p className="mt-4">The servers are being set up; this takes half a minute.</p>
      )}
      {data.truth.length > 0 && <Truths truth={data.truth} rows={promised.data ?? []} />}
      {data.faults.length > 0 && (
        <section aria-label="Faults" className="mt-6">
          <h2 className="text-section">What can be broken</h2>
          <ul className="max-w-5xl">
            {data.faults.map((f) => (
              <FaultLine key={f.id} fault={f} />
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}

function Truths({ truth, rows }: { truth: Truth[]; rows: Row[] }) {
  return (
    <section aria-label="Databases" className="mt-4">
      <h2 className="text-section">What they hold, and what Firth can bring back</h2>
      <table className="max-w-5xl text-left" data-testid="truth">
        <thead className="text-note text-muted">
          <tr>
            {["Database", "Rows", "Last row committed", "Restorable up to", "Would be lost"].map((h) => (
              <th key={h} scope="col" className="py-1 pr-8 font-semibold">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {truth.map((t) => (
            <TruthRow key={t.database} truth={t} row={rows.find((r) => r.id === t.database)} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

function TruthRow({ truth, row }: { truth: Truth; row: Row | undefined }) {
  const point = row?.hazards.find((h) => h.hazard === "mishap")?.recoveryPoint;
  const lost =
    point && truth.committed ? Math.max(0, (Date.parse(truth.committed) - Date.parse(point)) / 1000) : null;
  return (
    <tr className="border-t border-line align-top">
      <th scope="row" className="py-1.5 pr-8 font-normal">
        <Link className="text-button" to={`/databases/${encodeURIComponent(truth.database)}`}>
          {truth.database}
        </Link>
      </th>
      <td className="py-1.5 pr-8">{count(truth.rows)}</td>
      <td className="py-1.5 pr-8">
        {truth.committed ? timeOfDay(truth.committed) : "none yet"}
        {truth.said && <span className="block max-w-xs text-note text-coral-text">The last try failed.</span>}
      </td>
      <td className="py-1.5 pr-8">{point ? timeOfDay(point) : "nothing yet"}</td>
      <td className="py-1.5">{lost === null ? "all of it" : lost < 1 ? "nothing" : duration(lost)}</td>
    </tr>
  );
}

function FaultLine({ fault }: { fault: Fault }) {
  const may = useMay("operator");
  const { run, pending, problem } = useCommand(["live"]);
  const busy = pending || fault.asked;
  return (
    <li className="flex items-start gap-x-6 border-t border-line py-2.5">
      <div className="grow">
        <p className="font-semibold">
          {fault.title}
          {fault.broken && <span className="ml-2 font-normal text-coral-text">broken</span>}
        </p>
        <p className="text-muted">{fault.shows}</p>
        {fault.at && <p className="text-note text-muted">Last done at {timeOfDay(fault.at)}.</p>}
        {fault.said && <p className="text-coral-text">It could not be done: {fault.said}</p>}
        {problem && <ProblemNote error={problem} />}
      </div>
      {may && (
        <button
          className="outline-button shrink-0"
          disabled={busy}
          onClick={() => void run(() => askFault(fault.id, !fault.broken))}
        >
          {busy ? "Being done…" : fault.broken ? "Put it right" : "Break it"}
        </button>
      )}
    </li>
  );
}
