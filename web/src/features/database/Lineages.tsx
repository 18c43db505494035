import type { DatabaseView } from "../../api/types";
import { longMoment } from "../../time/words";
import { written } from "../../ui/positions";

/** The log histories and streams of a database that has more than one of either. */
export function Lineages({ data }: { data: DatabaseView }) {
  if (data.lineages.length < 2 && data.streams.length < 2) return null;
  const zone = data.row.zone;
  return (
    <div data-testid="lineages">
      {data.streams.length > 1 && (
        <p className="mt-4">
          <b>{data.streams.length} log streams</b>: {data.streams.join(", ")}. A moment can be restored only
          where the logs of all of them reach it.
        </p>
      )}
      {data.lineages.length > 1 && (
        <>
          <h2 className="mt-4 text-section">Lineages</h2>
          <ol>
            {data.lineages.map((l) => (
              <li key={l.id} className="border-t border-line py-1.5">
                <span className="font-semibold">{l.id}</span>{" "}
                {l.parent === null
                  ? l === data.lineages[0]
                    ? "since it went into service"
                    : "a history of its own"
                  : `forked from ${l.parent} at ${l.forks.map((f) => (data.streams.length > 1 ? `${written(data.row.engine, f.position)} in ${f.stream}` : written(data.row.engine, f.position))).join(", ")}`}
                <span className="block text-muted" title={l.openedAt}>
                  {longMoment(l.openedAt, zone)} {l.until ? `to ${longMoment(l.until, zone)}` : "until now"}
                </span>
              </li>
            ))}
          </ol>
        </>
      )}
    </div>
  );
}
