import type { DatabaseView } from "../../api/types";
import { liftHold } from "./api";
import { useView } from "../../time/view";
import { day, longMoment, size } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";

/** What people keep whatever the policy says, and the room that takes. */
export function Holds({ data, onHold }: { data: DatabaseView; onHold: (backup: string | null) => void }) {
  const { asOf } = useView();
  const id = data.row.id;
  const zone = data.row.zone;
  const { run, problem } = useCommand(["database", id], ["backups", id]);
  const lift = (hold: string) => void run(() => liftHold(id, hold));
  return (
    <section aria-label="Holds" data-testid="holds">
      <h2 className="mt-5 text-section">Holds</h2>
      {data.holds.length === 0 && <p className="text-muted">Nothing is held beyond its policy.</p>}
      {data.holds.map((h) => (
        <div key={h.id} className="border-t border-line py-1.5">
          <p>
            {h.backup ? (
              <span className="font-mono text-note break-all">{h.backup}</span>
            ) : (
              <>What restores {h.moment ? longMoment(h.moment, zone) : "a moment"}</>
            )}
            : {h.reason}
          </p>
          <p className="text-note text-muted">
            {[
              h.by,
              h.until ? `until ${day(h.until, zone)}` : "without end",
              h.bytes > 0 ? `${size(h.bytes)} that nothing else needs` : "all of it is needed anyway",
            ]
              .filter(Boolean)
              .join(", ")}{" "}
            {asOf === null && (
              <button className="text-button ml-1" onClick={() => lift(h.id)}>
                Lift
              </button>
            )}
          </p>
        </div>
      ))}
      {problem && <ProblemNote error={problem} />}
      {asOf === null && (
        <button className="text-button mt-1" onClick={() => onHold(null)}>
          Hold a moment…
        </button>
      )}
    </section>
  );
}
