import type { Rehearsal, Rehearsed } from "../rehearsal/api";
import { count, duration } from "../../time/words";

const FIGURES: [text: string, of: (r: Rehearsed) => string][] = [
  ["databases down", (r) => count(r.down)],
  ["cannot be restored", (r) => count(r.unreachable)],
  ["promised restore times kept", (r) => `${count(r.kept)} of ${count(r.promised)}`],
  ["all back after", (r) => duration(r.seconds)],
  ["most that is lost", (r) => (r.worstAge === null ? "" : duration(r.worstAge))],
];

/** Two rehearsals beside each other, and the databases that fare otherwise. */
export function Compared({ one, other }: { one: Rehearsal; other: Rehearsal }) {
  const a = one.result as Rehearsed;
  const b = other.result as Rehearsed;
  const before = new Map(b.rows.map((r) => [r.database, r]));
  const differ = a.rows
    .map((r) => ({ r, o: before.get(r.database) }))
    .filter(({ r, o }) => o && (r.reached !== o.reached || r.ends !== o.ends))
    .map(({ r, o }) => `${r.name}: ${fares(r)}, beside ${o ? fares(o) : ""}`);
  return (
    <section aria-label="Compared" className="mt-3 border-l-[3px] border-violet pl-3">
      <table className="text-left">
        <thead>
          <tr>
            <th className="pr-6 font-normal text-muted">Without</th>
            <th className="pr-6">{one.losing.title}</th>
            <th>{other.losing.title}</th>
          </tr>
        </thead>
        <tbody>
          {FIGURES.map(([text, of]) => (
            <tr key={text}>
              <th className="pr-6 font-normal text-muted">{text}</th>
              <td className="pr-6">{of(a)}</td>
              <td>{of(b)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {differ.length > 0 && (
        <details className="mt-1">
          <summary className="text-button">
            {differ.length === 1 ? "One database fares" : `${differ.length} databases fare`} otherwise
          </summary>
          <ul>
            {differ.slice(0, 100).map((d) => (
              <li key={d}>{d}</li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

function fares(r: Rehearsed["rows"][number]): string {
  if (!r.reached) return "nothing is left";
  return r.ends === null ? `loses ${duration(r.age ?? 0)}` : `back after ${duration(r.ends)}`;
}
