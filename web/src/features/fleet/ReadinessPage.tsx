import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { ReadyView } from "../../api/types";
import { useReadiness } from "./api";
import { duration, longMoment, viewerZone } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { ReadyMark } from "./ReadyMark";
import { ITEMS, STATES } from "./readiness";

/** Whether a database is fit for its schedules to be trusted, fact by fact. */
export function ReadinessPage() {
  const { id = "" } = useParams();
  const readiness = useReadiness(id);
  useEffect(() => {
    document.title = `Readiness of ${readiness.data?.name ?? id} · Firth`;
  }, [readiness.data?.name, id]);
  if (readiness.error) return <ProblemNote error={readiness.error} />;
  if (!readiness.data) return <main className="px-5 py-6 text-muted">…</main>;
  return <Checklist view={readiness.data} />;
}

function Checklist({ view }: { view: ReadyView }) {
  return (
    <main className="max-w-[1080px] px-5 pt-4 pb-10">
      <h1 className="text-page">Readiness of {view.name}</h1>
      <p>
        <Verdict view={view} />{" "}
        <span className="text-muted">
          <Link className="text-button" to="/fleet">
            Fleet
          </Link>{" "}
          ·{" "}
          <Link className="text-button" to={`/databases/${encodeURIComponent(view.id)}`}>
            its cover
          </Link>
        </span>
      </p>
      <table className="mt-3 w-full border-collapse" data-testid="readiness">
        <thead className="text-left text-note text-muted">
          <tr>
            {["", "what is looked at", "what is known", "who said so", "age"].map((h) => (
              <th key={h} className="pr-4 font-normal">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {view.checks.map((c) => (
            <tr key={c.item + c.text} className="border-t border-line align-top">
              <td className="py-1.5 pr-4 whitespace-nowrap">
                <ReadyMark state={c.state} />{" "}
                <span className={c.state === "not-ready" ? "font-semibold text-coral-text" : "text-muted"}>
                  {STATES[c.state]}
                </span>
              </td>
              <th scope="row" className="py-1.5 pr-4 text-left font-semibold whitespace-nowrap">
                {ITEMS[c.item]}
              </th>
              <td className="py-1.5 pr-4">{c.text}</td>
              <td className="py-1.5 pr-4 whitespace-nowrap">{c.source ?? ""}</td>
              <td className="py-1.5 whitespace-nowrap text-muted">
                {c.at && (
                  <time dateTime={c.at} title={longMoment(c.at, viewerZone)}>
                    {duration((Date.parse(view.now) - Date.parse(c.at)) / 1000)}
                  </time>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-3 text-note text-muted">
        What was checked more than a day ago counts as unknown. Runners and agents send their findings as{" "}
        <span className="font-mono">probe</span> records by /api/import.
      </p>
    </main>
  );
}

function Verdict({ view }: { view: ReadyView }) {
  const count = (state: string) => view.checks.filter((c) => c.state === state).length;
  if (view.state === "not-ready")
    return (
      <>
        Its schedules cannot be trusted yet:{" "}
        {count("not-ready") === 1
          ? "one thing is not as it should be."
          : `${count("not-ready")} things are not as they should be.`}
      </>
    );
  if (view.state === "unknown")
    return (
      <>
        {count("unknown") === 1 ? "One thing about it has" : `${count("unknown")} things about it have`} not
        been checked within a day.
      </>
    );
  if (view.state === "waiting")
    return <>Ready but for its logs, which await a restart; backups can begin now.</>;
  return <>Everything is as it should be.</>;
}
