import type { Schemas } from "../../api/types";
import { Link } from "react-router";
import type { PurgeRow } from "./api";
import { count, longMoment, size, viewerZone } from "../../time/words";

export const STATES: Record<Schemas["PurgeList"]["state"], string> = {
  asked: "awaits approval",
  approved: "approved",
  running: "being carried out",
  paused: "paused",
  stopped: "stopped",
  cancelled: "cancelled",
  done: "done",
};

/** What was asked for before. */
export function Lists({ lists }: { lists: PurgeRow[] }) {
  return (
    <section aria-label="Lists" className="mt-5">
      <h2 className="text-section">Lists</h2>
      {lists.length === 0 && <p className="text-muted">No purge has been asked for yet.</p>}
      {lists.map((l) => (
        <div key={l.id} className="border-t border-line py-1.5">
          <Link className="text-button" to={`/purge/${l.id}`}>
            {size(l.bytes)} in {l.storeName}
          </Link>
          , <b>{STATES[l.state]}</b>
          <p className="text-note text-muted">
            {count(l.copies)} copies, asked by {l.askedBy}, {longMoment(l.askedAt, viewerZone)}: {l.reason}
          </p>
        </div>
      ))}
    </section>
  );
}
