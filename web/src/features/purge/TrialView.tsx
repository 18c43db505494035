import { Link } from "react-router";
import { count, date, size, viewerZone } from "../../time/words";
import type { Trial } from "./standing";

const TALL = 64;

/** What terms would have done in the nights that were: a bar a night, and what today's rules would miss. */
export function TrialView({ trial }: { trial: Trial }) {
  const most = Math.max(1, ...trial.nights.map((n) => n.bytes));
  const last = trial.nights.at(-1);
  const skipped = trial.nights.filter((n) => n.pausedBy);
  return (
    <section aria-label="The nights that were" data-testid="trial" className="mt-3">
      <p>
        In the last {trial.nights.length} nights{" "}
        {trial.copies === 0 ? (
          "nothing would have gone"
        ) : (
          <>
            <b>{copies(trial.copies)}</b> would have gone, <b>{size(trial.bytes)}</b>
          </>
        )}
        {trial.others > 0 &&
          `, of ${count(trial.databases)} of ${count(trial.databases + trial.others)} databases`}
        .{" "}
        {trial.left > 0 &&
          `${copies(trial.left)} more, ${size(trial.leftBytes)}, would still wait their turn. `}
        {skipped.length > 0 &&
          `${skipped.length === 1 ? "One night" : `${skipped.length} nights`} would have been left out, the last for: ${skipped.at(-1)?.pausedBy ?? ""}.`}
      </p>
      <div className="mt-2 flex items-end gap-[3px]" style={{ height: TALL }} aria-hidden>
        {trial.nights.map((n) => (
          <span
            key={n.date}
            title={`${n.date}: ${n.pausedBy || `${copies(n.copies)}, ${size(n.bytes)}`}`}
            className={`w-[14px] ${n.pausedBy ? "border border-coral" : n.bytes > 0 ? "border border-hatch bg-sand" : "border-b border-line"}`}
            style={{ height: n.pausedBy ? 6 : Math.max(1, Math.round((TALL * n.bytes) / most)) }}
          />
        ))}
      </div>
      <p className="flex max-w-[510px] justify-between text-note text-muted">
        <span>{trial.nights[0] && date(trial.nights[0].opens, viewerZone)}</span>
        <span>bytes a night</span>
        <span>{last && date(last.opens, viewerZone)}</span>
      </p>
      <Harm trial={trial} />
      {trial.first.length > 0 && <First trial={trial} />}
    </section>
  );
}

const copies = (n: number) => (n === 1 ? "1 copy" : `${count(n)} copies`);

function Harm({ trial }: { trial: Trial }) {
  if (trial.copies === 0) return null;
  if (trial.flaws.length === 0) {
    return <p className="mt-1">Everything that today&apos;s rules and promises need would still be there.</p>;
  }
  return (
    <div className="mt-1 border-l-[3px] border-coral pl-3" role="alert">
      <p className="text-coral-text">Of what today&apos;s rules and promises need, this would be missing:</p>
      <ul>
        {trial.flaws.slice(0, 5).map((f) => (
          <li key={f}>{f}</li>
        ))}
        {trial.flaws.length > 5 && <li>and {trial.flaws.length - 5} more</li>}
      </ul>
    </div>
  );
}

/** The first of the copies, so that one can see which they are. */
function First({ trial }: { trial: Trial }) {
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-button">The first that would have gone</summary>
      <table className="mt-1 text-left text-small">
        <thead className="text-note text-muted">
          <tr>
            {["Night of", "Database", "Backup", "Store", "Size", "Why no rule needs it"].map((h) => (
              <th key={h} scope="col" className="py-0.5 pr-4 font-semibold">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {trial.first.map((c) => (
            <tr key={`${c.backup} ${c.storeName}`} className="border-t border-line align-top">
              <td className="py-0.5 pr-4 whitespace-nowrap">{date(`${c.date}T12:00:00Z`, viewerZone)}</td>
              <td className="py-0.5 pr-4">
                <Link className="text-button" to={`/databases/${encodeURIComponent(c.database)}`}>
                  {c.name}
                </Link>
              </td>
              <td className="py-0.5 pr-4">{c.backup}</td>
              <td className="py-0.5 pr-4 whitespace-nowrap">{c.storeName}</td>
              <td className="py-0.5 pr-4 whitespace-nowrap">{size(c.bytes)}</td>
              <td className="py-0.5">{c.why}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
