import { asError } from "../../api/client";
import { useState } from "react";
import { makeAgain, useReports } from "./api";
import { date, longMoment, viewerZone } from "../../time/words";

/** Reports that were kept, and whether they come out the same when made again. */
export function KeptReports({ onOpen }: { onOpen: (id: string) => void }) {
  const { data } = useReports();
  const [said, setSaid] = useState<Record<string, string>>({});
  const again = (id: string) =>
    void makeAgain(id).then(
      (a) =>
        setSaid((s) => ({
          ...s,
          [id]: a.same
            ? "Made again, it comes out the same."
            : `Facts that came since change its ${a.differs.join(", ")}; the one kept stays as it is.`,
        })),
      (p: unknown) => setSaid((s) => ({ ...s, [id]: asError(p).message })),
    );
  return (
    <aside>
      <h2 className="text-section">Kept</h2>
      {(!data || data.length === 0) && (
        <p className="text-muted">
          None yet. A report that is kept stays as it is, with the moment it was made for.
        </p>
      )}
      <ul>
        {data?.map((r) => (
          <li key={r.id} className="border-b border-line py-1.5">
            <button className="text-button" onClick={() => onOpen(r.id)}>
              {r.title}, {date(r.from, viewerZone)} to {date(r.to, viewerZone)}
            </button>
            <div className="text-note text-muted">
              {longMoment(r.made, viewerZone)}, {r.by}{" "}
              <button className="text-button ml-1" onClick={() => again(r.id)}>
                Make it again
              </button>
            </div>
            {said[r.id] && <p role="status">{said[r.id]}</p>}
          </li>
        ))}
      </ul>
    </aside>
  );
}
