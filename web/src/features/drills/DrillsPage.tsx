import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useFirst, useMore } from "../../api/stretch";
import {
  drillsOf,
  proposeDrill,
  suspectDrill,
  type DrillDone,
  type DrillRow,
  type DrillsView,
  type Proposal,
} from "./api";
import { useMay } from "../../api/session";
import { useView } from "../../time/view";
import { count, date, duration, longMoment, promise, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { MoreButton } from "../../ui/MoreButton";
import { ProblemNote } from "../../ui/ProblemNote";
import { DrillForm } from "./DrillForm";
import { Views } from "../restore/Views";
import type { Schemas } from "../../api/types";

/** Proving that restores work: what is due, which moment to try, what became of it. */
export function DrillsPage() {
  const view = useView();
  const asked = drillsOf(view.asOf);
  const { data, error } = useFirst(asked);
  const may = useMay("operator") && view.asOf === null;
  const { run, problem } = useCommand(["drills"]);
  const [telling, setTelling] = useState<Proposal | null>(null);
  useEffect(() => {
    document.title = "Drills · Firth";
  }, []);
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return <main className="h-96 animate-pulse px-5 py-6" aria-busy />;
  const propose = (database: string | null) => void run(() => proposeDrill(database));
  const { due, most } = data;
  return (
    <main className="px-5 pt-3 pb-10">
      <Views />
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-page leading-tight">Drills</h1>
        <p className="text-muted" data-testid="drill-coverage">
          Drills are promised for {count(data.promised)} databases; {count(data.proved)}{" "}
          {data.proved === 1 ? "is" : "are"} proved. Of all {count(data.databases)}, {count(data.tested)}{" "}
          {data.tested === 1 ? "has" : "have"} ever been.
        </p>
        {may && due > 0 && !most && (
          <button className="ink-button ml-auto" onClick={() => propose(null)}>
            Propose one
          </button>
        )}
      </div>
      {problem && <ProblemNote error={problem} />}
      {most && (
        <section
          aria-label="What needs it most"
          className="mt-3 flex flex-wrap items-baseline gap-x-3 border-l-[3px] border-violet pl-3"
        >
          <p>
            <b>{most.name}</b> needs one most: {need(most)}.
          </p>
          {may && (
            <button className="ink-button" onClick={() => propose(most.database)}>
              Propose its drill
            </button>
          )}
        </section>
      )}
      <DrillsTable data={data} asked={asked} may={may} propose={propose} setTelling={setTelling} />
      <h2 className="mt-6 text-section">Done</h2>
      {data.done.length === 0 && <p className="text-muted">No drill has been recorded yet.</p>}
      <ul>
        {data.done.map((d) => (
          <Done key={d.id} drill={d} may={may} />
        ))}
      </ul>
      {telling && (
        <DrillForm
          proposal={telling}
          onClose={() => setTelling(null)}
          onDone={() => {
            setTelling(null);
          }}
        />
      )}
    </main>
  );
}

function DrillsTable(props: {
  data: DrillsView;
  asked: ReturnType<typeof drillsOf>;
  may: boolean;
  propose: (database: string | null) => undefined;
  setTelling: (next: Schemas["Proposal"] | null) => void;
}) {
  const { data, asked, may, propose, setTelling } = props;
  const { rows, left, more } = useMore(asked, data, data.databases);
  return (
    <>
      <table className="mt-3 w-full text-left">
        <thead className="text-note text-muted">
          <tr>
            {["Database", "Policy", "Promised", "Last proved", "State", ""].map((h) => (
              <th key={h} className="py-1 pr-3 font-normal">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <Row key={r.database} row={r} may={may} onPropose={propose} onTell={setTelling} />
          ))}
        </tbody>
      </table>
      <MoreButton left={left} onMore={more} />
    </>
  );
}

function need(row: DrillRow): string {
  if (row.state === "failed") return "the last one failed";
  const due = row.due ? ` ${date(row.due, viewerZone)}` : "";
  return row.state === "due" ? `it has been due since${due}` : `it was never proved, and is due by${due}`;
}

const STATES: Record<Schemas["DrillRow"]["state"], string> = {
  failed: "failed",
  due: "due",
  awaited: "none yet, due",
  proved: "proved",
  none: "",
};

type RowProps = {
  row: DrillRow;
  may: boolean;
  onPropose: (database: string) => void;
  onTell: (proposal: Proposal) => void;
};

function Row({ row, may, onPropose, onTell }: RowProps) {
  const p = row.proposed;
  return (
    <>
      <tr className="border-t border-line" data-drill={row.database}>
        <td className="py-1 pr-3 font-semibold">{row.name}</td>
        <td className="pr-3">{row.policy ?? "no policy"}</td>
        <td className="pr-3">{row.every === null ? "" : `every ${promise(row.every)}`}</td>
        <td className="pr-3">{row.proved ? date(row.proved, viewerZone) : "never"}</td>
        <td className={`pr-3 ${row.state === "failed" ? "font-semibold text-coral-text" : ""}`}>
          {STATES[row.state]}
          {row.state === "due" && row.due && ` since ${date(row.due, viewerZone)}`}
          {row.state === "awaited" && row.due && ` by ${date(row.due, viewerZone)}`}
          {row.state === "proved" && row.due && ` until ${date(row.due, viewerZone)}`}
        </td>
        <td className="text-right">
          {may && !p && (
            <button className="text-button" onClick={() => onPropose(row.database)}>
              Propose a drill
            </button>
          )}
        </td>
      </tr>
      {p && (
        <tr>
          <td colSpan={6} className="pb-2">
            <div className="border-l-[3px] border-violet pl-3">
              Restore it to <b>{longMoment(p.moment, viewerZone)}</b> ({viewerZone}), chosen by chance from
              seed {p.seed}: {p.title}
              {p.expected !== null && `, about ${duration(p.expected)}`}.{" "}
              <span className="text-muted">
                Proposed by {p.by}, {longMoment(p.at, viewerZone)}.
              </span>{" "}
              <Link
                className="text-button"
                to={`/restore?database=${encodeURIComponent(p.database)}&moment=${encodeURIComponent(p.moment)}`}
              >
                The plan
              </Link>{" "}
              {may && (
                <button className="text-button ml-2" onClick={() => onTell(p)}>
                  Enter the result
                </button>
              )}
            </div>
          </td>
        </tr>
      )}
    </>
  );
}

const OUTCOMES: Record<Schemas["DrillDone"]["outcome"], string> = {
  proved: "proved",
  unchecked: "went well, nothing checked: proves nothing",
  failed: "failed",
  untold: "result not recorded",
};

function Done({ drill, may }: { drill: DrillDone; may: boolean }) {
  const [said, setSaid] = useState<string | null>(null);
  const { run, pending, problem } = useCommand(["drills"]);
  const mark = () =>
    void run(
      () => suspectDrill(drill.id),
      (s) => setSaid(s.copies === 1 ? "One copy is marked." : `${s.copies} copies are marked.`),
    );
  const took = drill.took === null ? "" : `took ${duration(drill.took)}`;
  const expected = drill.expected === null ? "" : ` for ${duration(drill.expected)} expected`;
  return (
    <li className="flex flex-wrap gap-x-3 border-b border-line py-1">
      <span className="w-[150px] text-muted">{longMoment(drill.at, drill.zone)}</span>
      <span className="w-[130px] font-semibold">{drill.name}</span>
      <span className={drill.outcome === "failed" ? "font-semibold text-coral-text" : ""}>
        {OUTCOMES[drill.outcome]}
      </span>
      <span className="text-muted">
        {[
          took + (took ? expected : ""),
          drill.checks.length > 0 ? `checked: ${drill.checks.join(", ")}` : "",
          drill.message,
        ]
          .filter(Boolean)
          .join("; ")}
      </span>
      {may && drill.suspects > 0 && (
        <button className="text-button ml-auto" disabled={pending} onClick={mark}>
          {drill.suspects === 1 ? "Mark the copy it read" : `Mark the ${drill.suspects} copies it read`} as
          spoiled
        </button>
      )}
      {said && <span role="status">{said}</span>}
      {problem && <ProblemNote error={problem} />}
    </li>
  );
}
