import { Link } from "react-router";
import { useRestores } from "./api";
import { longMoment, viewerZone } from "../../time/words";

/** Restores somebody began, the newest first. */
export function Restores() {
  const { data } = useRestores();
  if (!data || data.length === 0) return null;
  return (
    <section aria-label="Restores begun" className="mt-6">
      <h2 className="text-section">Restores begun</h2>
      <ul>
        {data.slice(0, 20).map((r) => (
          <li key={r.id} className="flex flex-wrap gap-x-4 border-b border-line py-1">
            <Link className="text-button" to={`/restore/${r.id}`}>
              {r.database} as {r.name}
            </Link>
            <span>{r.target ? `to ${longMoment(r.target, viewerZone)}` : "to a log position"}</span>
            <span className="ml-auto text-muted">
              {r.state}, begun by {r.by}, {longMoment(r.at, viewerZone)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
