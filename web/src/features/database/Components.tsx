import { Link } from "react-router";
import type { DatabaseView } from "../../api/types";
import { useView } from "../../time/view";
import { day, size } from "../../time/words";

/** The parts that can be restored by themselves, and which backups hold each. */
export function Components({ data }: { data: DatabaseView }) {
  const { search } = useView();
  if (data.components.length === 0) return null;
  return (
    <>
      <h2 className="mt-5 text-section">Components</h2>
      <table className="mt-1 w-full" data-testid="components">
        <thead className="text-note text-muted">
          <tr>
            <th className="text-left font-normal">name</th>
            <th className="text-right font-normal">size</th>
            <th className="text-right font-normal">usable backups, the newest</th>
          </tr>
        </thead>
        <tbody>
          {data.components.map((c) => (
            <tr key={c.name} className="border-t border-line align-top">
              <td className="py-1" title={c.kind ?? undefined}>
                {c.name}
              </td>
              <td className="py-1 text-right whitespace-nowrap">{c.bytes !== null ? size(c.bytes) : "–"}</td>
              <td className="py-1 text-right">
                {c.newest && c.newestAt ? (
                  <>
                    {c.backups},{" "}
                    <Link className="text-button" to={`/history/${encodeURIComponent(c.newest)}${search}`}>
                      {day(c.newestAt, data.row.zone)}
                    </Link>
                  </>
                ) : (
                  <span className="font-semibold text-coral-text">none</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
