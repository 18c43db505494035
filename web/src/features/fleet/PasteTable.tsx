import { useState } from "react";
import type { FleetChoices, Schemas } from "../../api/types";
import { isoSecond } from "../../time/view";
import { count } from "../../time/words";
import { DialogBox } from "../../ui/DialogBox";
import { ProblemNote } from "../../ui/ProblemNote";
import { useCompared } from "./api";
import { FIELDS, sizeText, type BadLine, type DatabaseRecord } from "./records";
import {
  columns,
  databasesOf,
  guess,
  readTable,
  remember,
  remembered,
  type Column,
  type Table,
} from "./table";

type Compared = Schemas["ComparedTable"];
type Row = Schemas["ComparedDatabase"];

type Props = {
  fleet: FleetChoices;
  onClose: () => void;
  /** States what is new or other, and can put it back. */
  onState: (records: object[], back: () => PutBack) => Promise<boolean>;
};

/** What undoes a table: those that were there before, whole as they were, and of those that were not that they are retired. */
export type PutBack = { before: object[]; retired: object[] };

/** Enrols and changes the databases of a table copied from a spreadsheet: what each column is, what would change, then doing it. */
export function PasteTable({ fleet, onClose, onState }: Props) {
  const [text, setText] = useState("");
  const [said, setSaid] = useState<Record<string, Column>>({});
  const [meant, setMeant] = useState<Record<string, string>>({});
  const table = text.trim() ? readTable(text) : null;
  const known = remembered();
  const is = (heading: string) => said[heading] ?? known[heading] ?? guess(heading);
  const read = table && databasesOf(table, is);
  const records = (read?.records ?? []).map((r) => withMeant(r, meant));
  const compared = useCompared(records, records.length > 0);
  const rows = records.length > 0 ? (compared.data?.databases ?? []) : [];
  const doing = rows.filter((r) => r.manner === "new" || r.manner === "changed").length;
  const save = async () => {
    if (table) remember(Object.fromEntries(table.headings.map((h) => [h, is(h)])));
    const wanted = records.filter((_, i) => ["new", "changed"].includes(rows[i]?.manner ?? ""));
    if (await onState(wanted, () => undone(rows, records))) onClose();
  };
  return (
    <DialogBox title="Paste a table" width="w-[860px]" onClose={onClose}>
      <p className="text-muted">
        The first row names the columns; only a name is needed. Of databases that are known what no column
        says stays as it is. Nothing is taken before you have seen what would change.
      </p>
      <textarea
        aria-label="Table"
        className="mt-2 h-32 w-full rounded border border-line bg-panel p-2 font-mono text-note"
        placeholder={"name\tengine\tsite\tsize\nferry-wifi\tPostgreSQL 16\tnorthquay\t40 GB"}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      {table && <Columns table={table} is={is} onSay={(h, c) => setSaid({ ...said, [h]: c })} />}
      {compared.error && <ProblemNote error={compared.error} />}
      {records.length > 0 && compared.data && (
        <>
          <Unknown
            unknown={compared.data.unknown}
            meant={meant}
            fleet={fleet}
            onMean={(what, id) => setMeant({ ...meant, [what]: id })}
          />
          <Difference rows={rows} lines={read?.lines ?? []} />
        </>
      )}
      {read?.bad.map((b) => (
        <BadRow key={b.line} bad={b} />
      ))}
      <div className="mt-4 flex items-center gap-3">
        <button
          className="ink-button"
          disabled={doing === 0 || compared.isPlaceholderData}
          onClick={() => void save()}
        >
          {doing === 1 ? "Take it" : `Take these ${count(doing)}`}
        </button>
        <button className="text-button" onClick={onClose}>
          Cancel
        </button>
      </div>
    </DialogBox>
  );
}

/** A record with what was meant by names nobody knows; left out where nothing was. */
function withMeant(record: DatabaseRecord, meant: Record<string, string>): DatabaseRecord {
  const out = { ...record };
  for (const [what, id] of Object.entries(meant)) {
    const [field, text] = what.split(/:(.*)/s) as [string, string];
    if (out[field] !== text) continue;
    if (id) out[field] = id;
    else Reflect.deleteProperty(out, field);
  }
  return out;
}

/** As of the moment it is undone. */
function undone(rows: Row[], records: DatabaseRecord[]): PutBack {
  const retired = isoSecond(Date.now());
  return {
    before: rows.flatMap((r) => (r.manner === "changed" && r.before ? [r.before] : [])),
    retired: rows.flatMap((r, i) => {
      const own = records[i];
      return r.manner === "new" && own
        ? [{ type: "database", id: own["id"], name: own["name"], retired }]
        : [];
    }),
  };
}

function Columns(props: {
  table: Table;
  is: (heading: string) => Column;
  onSay: (h: string, c: Column) => void;
}) {
  const { table, is, onSay } = props;
  return (
    <div className="mt-2 flex flex-wrap gap-x-4 gap-y-1" data-testid="columns">
      {table.headings.map((h) => (
        <label key={h} className="flex items-center gap-1">
          <b>{h}</b> is
          <select
            className={`rounded border border-line bg-panel px-1 ${is(h) === "" ? "text-ochre-text" : ""}`}
            value={is(h)}
            onChange={(e) => onSay(h, e.target.value as Column)}
          >
            {columns(h).map(([value, text]) => (
              <option key={value} value={value}>
                {text}
              </option>
            ))}
          </select>
        </label>
      ))}
    </div>
  );
}

/** Each name nobody knows is asked about once, however many rows it stands in. */
function Unknown(props: {
  unknown: Compared["unknown"];
  meant: Record<string, string>;
  fleet: FleetChoices;
  onMean: (what: string, id: string) => void;
}) {
  const { unknown, fleet, onMean } = props;
  const lists: Record<string, { id: string; name: string }[]> = {
    site: fleet.sites,
    route: fleet.routes,
    policy: fleet.policies,
  };
  return unknown.map((u) => (
    <p key={`${u.field}:${u.text}`} className="mt-2 border-l-[3px] border-ochre pl-3">
      <label className="flex flex-wrap items-center gap-2">
        No {titleOf(u.field).toLowerCase()} is called <b>{u.text}</b> (
        {u.rows === 1 ? "one row" : `${count(u.rows)} rows`}). Meant is
        <select
          aria-label={`Meant by ${u.text}`}
          className="rounded border border-line bg-panel px-1"
          value="?"
          onChange={(e) => onMean(`${u.field}:${u.text}`, e.target.value)}
        >
          <option value="?">…</option>
          {(lists[u.field] ?? []).map((o) => (
            <option key={o.id} value={o.id}>
              {o.name}
            </option>
          ))}
          <option value="">nothing: leave it out</option>
        </select>
      </label>
    </p>
  ));
}

const titleOf = (field: string) => FIELDS.find(([f]) => f === field)?.[1] ?? field;
const MOST = 40;

/** What would become of the rows: new ones by name, changed ones field by field, how many are as they were. */
function Difference({ rows, lines }: { rows: Row[]; lines: number[] }) {
  const of = (manner: Row["manner"]) => rows.filter((r) => r.manner === manner);
  const fresh = of("new");
  const changed = of("changed");
  const refused = rows.map((r, i) => ({ r, line: lines[i] ?? 0 })).filter(({ r }) => r.manner === "refused");
  return (
    <div aria-live="polite" data-testid="difference" className="mt-2">
      <p>
        <b>
          {count(fresh.length)} new, {count(changed.length)} changed, {count(of("unchanged").length)}{" "}
          unchanged
        </b>
        {refused.length > 0 && `, ${count(refused.length)} cannot be taken`}.
      </p>
      {fresh.length > 0 && (
        <p>
          New:{" "}
          {fresh
            .slice(0, MOST)
            .map((r) => r.id)
            .join(", ")}
          {fresh.length > MOST && ` and ${count(fresh.length - MOST)} more`}.
        </p>
      )}
      <ul className="max-h-48 overflow-y-auto">
        {changed.slice(0, MOST).map((r) => (
          <li key={r.id}>
            <b>{r.id}</b>{" "}
            {r.changes
              .map((c) => `${titleOf(c.field)}: ${shown(c.field, c.before)} → ${shown(c.field, c.after)}`)
              .join("; ")}
          </li>
        ))}
      </ul>
      {changed.length > MOST && (
        <p className="text-muted">and {count(changed.length - MOST)} more that change.</p>
      )}
      {refused.map(({ r, line }) => (
        <BadRow key={line} bad={{ line, field: r.field, reason: r.reason }} />
      ))}
    </div>
  );
}

function shown(field: string, text: string): string {
  if (text === "") return "nothing";
  if (field === "sizeBytes" && Number(text) > 0) return sizeText(Number(text));
  if (field !== "labels") return text;
  const labels = JSON.parse(text) as Record<string, string>;
  return Object.entries(labels)
    .map(([k, v]) => `${k}=${v}`)
    .join(", ");
}

const BadRow = ({ bad }: { bad: BadLine }) => (
  <p className="text-coral-text">
    Line {bad.line}: {bad.field} {bad.reason}.
  </p>
);
