import { useState } from "react";
import type { PurgeLine, PurgeView } from "./api";
import { count, day, size, viewerZone } from "../../time/words";
import { Choice } from "../../ui/Choice";
import { useAskWhy } from "../../why/context";

const SHOWN = 200;

/** What no rule needs, line by line, with why; each may be left out. What only a lock or a hold keeps is shown and stays. */
export function Lines(props: { data: PurgeView; leave: (change: (keys: Set<string>) => void) => void }) {
  const { data, leave } = props;
  const [database, setDatabase] = useState("");
  const [kind, setKind] = useState("");
  const lines = data.lines.filter(
    (l) => (!database || l.database === database) && (!kind || l.kind === kind),
  );
  const free = lines.filter((l) => l.kept === null);
  const all = free.length > 0 && free.every((l) => l.chosen);
  const names = [...new Map(data.lines.map((l) => [l.database, l.name]))];
  const turn = (some: PurgeLine[], chosen: boolean) =>
    leave((keys) => some.forEach((l) => (chosen ? keys.delete(l.key) : keys.add(l.key))));
  if (data.lines.length === 0)
    return <p className="text-muted">Nothing here may be deleted: every copy is needed by a rule.</p>;
  return (
    <section aria-label="What no rule needs">
      <div className="flex flex-wrap gap-4 pb-1">
        <Choice
          label="Of"
          value={database}
          options={[["", "every database"], ...names.map(([id, name]): [string, string] => [id, name])]}
          onChange={setDatabase}
        />
        <Choice
          label="Kind"
          value={kind}
          options={[
            ["", "every kind"],
            ["full", "fulls"],
            ["diff", "differentials"],
            ["incr", "incrementals"],
            ["log", "logs"],
            ["config", "config backups"],
          ]}
          onChange={setKind}
        />
      </div>
      <table className="w-full table-fixed text-left" data-testid="purge-lines">
        <thead className="text-note text-muted">
          <tr>
            <th className="w-8 py-1">
              <input
                type="checkbox"
                aria-label={all ? "Leave all of these out" : "Choose all of these"}
                checked={all}
                disabled={free.length === 0}
                onChange={(e) => turn(free, e.target.checked)}
              />
            </th>
            <th className="w-[26%] font-normal">Backup</th>
            <th className="w-[13%] font-normal">Database</th>
            <th className="w-[16%] font-normal">Taken</th>
            <th className="w-[10%] pr-3 text-right font-normal">Size</th>
            <th className="font-normal">Why no rule needs it</th>
          </tr>
        </thead>
        <tbody>
          {lines.slice(0, SHOWN).map((l) => (
            <Line key={l.key} line={l} many={data.store === null} onTurn={(chosen) => turn([l], chosen)} />
          ))}
        </tbody>
      </table>
      {lines.length > SHOWN && (
        <p className="mt-1 text-muted">
          {count(lines.length - SHOWN)} more lines; choose a database or a kind to see them.
        </p>
      )}
    </section>
  );
}

function Line(props: { line: PurgeLine; many: boolean; onTurn: (chosen: boolean) => void }) {
  const { line, many, onTurn } = props;
  const ask = useAskWhy();
  const subject = line.backup
    ? ({ database: line.database, about: "copy", backup: line.backup, store: line.store } as const)
    : null;
  const what = line.backup ?? `logs ×${count(line.count)}`;
  return (
    <tr
      className={`border-t border-line align-top ${line.chosen ? "bg-chosen" : ""}`}
      data-line={line.key}
      data-kept={line.kept ?? undefined}
    >
      <td className="py-2 pl-1">
        {line.kept === null ? (
          <input
            type="checkbox"
            aria-label={`${what} of ${line.name}`}
            checked={line.chosen}
            onChange={(e) => onTurn(e.target.checked)}
          />
        ) : (
          <span className="text-violet" title={line.kept}>
            <span aria-hidden>{line.kept.charAt(0).toUpperCase()}</span>
            <span className="sr-only">{line.kept}</span>
          </span>
        )}
      </td>
      <td className="truncate py-2 pr-2 font-mono text-note" title={what}>
        {subject ? (
          <button
            className="whole max-w-full truncate text-left hover:underline"
            data-why={JSON.stringify({ subject, zone: viewerZone })}
            onClick={() => ask(subject, viewerZone)}
          >
            {what}
          </button>
        ) : (
          what
        )}
      </td>
      <td className="truncate py-2 pr-2">
        {line.name}
        {many && <span className="block text-note text-muted">{line.storeName}</span>}
      </td>
      <td className="py-2 pr-2">
        {day(line.from, viewerZone)}
        {line.count > 1 && <span className="block text-note text-muted">to {day(line.to, viewerZone)}</span>}
      </td>
      <td className="py-2 pr-3 text-right">{line.bytes > 0 ? size(line.bytes) : "not known"}</td>
      <td className="py-2 break-words">
        {line.verdict === "unusable" && <b>unusable: </b>}
        {line.why}
        {line.kept === "locked" && line.until && (
          <span className="text-violet">; locked until {day(line.until, viewerZone)}</span>
        )}
        {line.kept === "stay" && line.until && (
          <span className="text-violet">; deleting it before {day(line.until, viewerZone)} costs money</span>
        )}
        {line.kept === "held" && <span className="text-violet">; a hold keeps it</span>}
      </td>
    </tr>
  );
}
