import { DialogTitle } from "@headlessui/react";
import { useState } from "react";
import type { ImportView } from "../../api/types";
import { DatabaseChoice } from "../fleet/DatabaseChoice";
import { stateRecords, useMappings, useTablePreview } from "./api";
import { count, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import {
  asDocument,
  asTaken,
  FIELDS,
  fits,
  foreignWords,
  fromDocument,
  guess,
  PATTERNS,
  WORDED,
  type Mapping,
  type Of,
  type Sample,
} from "./mapping";
import type { UseQueryResult } from "@tanstack/react-query";

type Props = {
  name: string;
  sample: Sample;
  /** The button that takes it, in words: where there are several tables, the last takes all. */
  take: string;
  onTake: (mapping: object) => void;
  onStop: () => void;
};

/** Says which column of a table is what, and shows what its first rows would be read as before anything is taken. */
export function MapTable({ name, sample, take: taking, onTake, onStop }: Props) {
  const kept = useMappings();
  const [own, setOwn] = useState<Mapping | null>(null);
  const { run, pending, problem } = useCommand();
  const known = (kept.data ?? []).map((k) => fromDocument(k.document));
  const mapping = own ?? known.find((m) => fits(m, sample)) ?? guess(sample, viewerZone);
  const document = asDocument(mapping);
  const preview = useTablePreview(name, sample.text, document, !kept.isLoading);
  const change = (part: Partial<Mapping>) => setOwn({ ...mapping, ...part });
  const setColumn = (column: string, field: string) => {
    const others = Object.entries(mapping.columns).filter(([c]) => c !== column);
    const columns = Object.fromEntries(field ? [...others, [column, field]] : others);
    change({ columns });
  };
  const take = () => {
    if (!mapping.name.trim()) {
      onTake(document);
      return;
    }
    void run(
      () => stateRecords([document]),
      () => onTake(document),
    );
  };
  const read = preview.data?.report;
  return (
    <div data-testid="map-table">
      <DialogTitle className="text-box">How is {name} to be read?</DialogTitle>
      <p className="text-muted">It is a table, not a fleet file. Nothing is taken until you say so.</p>
      <HowRowsAre mapping={mapping} change={change} known={known} setOwn={setOwn} sample={sample} />
      <ColumnsTable sample={sample} mapping={mapping} setColumn={setColumn} />
      {Object.keys(WORDED).map((field) => (
        <Words key={field} field={field} mapping={mapping} sample={sample} onChange={change} />
      ))}
      <ReadSoFar preview={preview} problem={problem} read={read} mapping={mapping} change={change} />
      <MapFoot
        pending={pending}
        read={read}
        take={take}
        taking={taking}
        onStop={onStop}
        mapping={mapping}
        change={change}
      />
    </div>
  );
}

/** What a row is, how times are written, and which kept mapping it is read by. */
function HowRowsAre(props: {
  mapping: Mapping;
  change: (part: Partial<Mapping>) => void;
  known: Mapping[];
  setOwn: (next: Mapping | null) => void;
  sample: Sample;
}) {
  const { mapping, change, known, setOwn, sample } = props;
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
      <label className="flex items-center gap-1.5">
        Each row is a
        <select
          className="rounded border border-line bg-panel px-1.5 py-0.5"
          value={mapping.of}
          onChange={(e) => change({ of: e.target.value as Of })}
        >
          <option value="backup">backup</option>
          <option value="run">run</option>
          <option value="both">run and, where it went well, its backup</option>
        </select>
      </label>
      <label className="flex items-center gap-1.5">
        times are written
        <select
          className="rounded border border-line bg-panel px-1.5 py-0.5"
          value={mapping.pattern}
          onChange={(e) => change({ pattern: e.target.value })}
        >
          {PATTERNS.map(([p]) => (
            <option key={p} value={p}>
              {p || "with their zone (RFC 3339)"}
            </option>
          ))}
        </select>
      </label>
      {mapping.pattern && (
        <label className="flex items-center gap-1.5">
          in
          <input
            className="w-[150px] rounded border border-line bg-panel px-1.5 py-0.5"
            aria-label="Time zone"
            value={mapping.zone}
            onChange={(e) => change({ zone: e.target.value })}
          />
        </label>
      )}
      {known.length > 0 && (
        <label className="flex items-center gap-1.5">
          as in
          <select
            className="rounded border border-line bg-panel px-1.5 py-0.5"
            value={known.some((m) => m.id === mapping.id) ? mapping.id : ""}
            onChange={(e) => setOwn(known.find((m) => m.id === e.target.value) ?? guess(sample, viewerZone))}
          >
            <option value="">nothing kept</option>
            {known.map((m) => (
              <option key={m.id} value={m.id}>
                {m.name || m.id}
              </option>
            ))}
          </select>
        </label>
      )}
    </div>
  );
}

function ColumnsTable(props: {
  sample: Sample;
  mapping: Mapping;
  setColumn: (column: string, field: string) => void;
}) {
  const { sample, mapping, setColumn } = props;
  return (
    <table className="mt-3 w-full text-left">
      <thead className="text-note text-muted">
        <tr>
          <th className="font-normal">column</th>
          <th className="font-normal">for instance</th>
          <th className="font-normal">is</th>
        </tr>
      </thead>
      <tbody>
        {sample.columns.map((column, at) => (
          <tr key={column} className="border-t border-line">
            <td className="py-0.5 pr-3 font-semibold">{column}</td>
            <td className="max-w-[220px] truncate py-0.5 pr-3 text-muted">
              {sample.rows.find((r) => r[at])?.[at] ?? "always empty"}
            </td>
            <td className="py-0.5">
              <select
                aria-label={`${column} is`}
                className="w-[270px] rounded border border-line bg-panel px-1.5 py-0.5"
                value={mapping.columns[column] ?? ""}
                onChange={(e) => setColumn(column, e.target.value)}
              >
                <option value="">left out</option>
                {FIELDS.map(([field, text]) => (
                  <option key={field} value={field}>
                    {text}
                  </option>
                ))}
              </select>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What the first rows would be read as. */
function ReadSoFar(props: {
  preview: UseQueryResult<{ report: ImportView; records: string[] }>;
  problem: Error | null;
  read: ImportView | undefined;
  mapping: Mapping;
  change: (part: Partial<Mapping>) => void;
}) {
  const { preview, problem, read, mapping, change } = props;
  return (
    <div className="mt-3" aria-live="polite">
      {preview.error && <ProblemNote error={preview.error} />}
      {problem && <ProblemNote error={problem} />}
      {read && !preview.error && (
        <>
          <p>
            Of the first {count(read.lines)} rows <b>{count(read.lines - read.rejectedLines)}</b> can be taken
            {read.rejectedLines > 0 && (
              <>
                , <b className="text-coral-text">{count(read.rejectedLines)}</b> cannot: line{" "}
                {read.rejected[0]?.line}, {read.rejected[0]?.field} {read.rejected[0]?.reason}
              </>
            )}
            .
          </p>
          <FirstRows records={preview.data?.records ?? []} />
          <Unknown
            unknown={read.unknown}
            stands={mapping.words.database ?? {}}
            onChange={(database) => change({ words: { ...mapping.words, database } })}
          />
        </>
      )}
    </div>
  );
}

function MapFoot(props: {
  pending: boolean;
  read: ImportView | undefined;
  take: () => void;
  taking: string;
  onStop: () => void;
  mapping: Mapping;
  change: (part: Partial<Mapping>) => void;
}) {
  const { pending, read, take, taking, onStop, mapping, change } = props;
  return (
    <div className="mt-4 flex flex-wrap items-center gap-3">
      <button
        className="ink-button"
        disabled={pending || !read || read.lines === read.rejectedLines}
        onClick={take}
      >
        {taking}
      </button>
      <button className="outline-button" onClick={onStop}>
        Leave it
      </button>
      <label className="ml-auto flex items-center gap-1.5">
        Remember this as
        <input
          className="w-[170px] rounded border border-line bg-panel px-2 py-0.5"
          placeholder="a name, or nothing"
          value={mapping.name}
          onChange={(e) => change({ name: e.target.value })}
        />
      </label>
    </div>
  );
}

/** The first rows as they will be taken. */
function FirstRows({ records }: { records: string[] }) {
  const rows = asTaken(records);
  if (rows.length === 0) return null;
  return (
    <div className="mt-1 max-h-44 overflow-auto">
      <table className="w-full text-left text-note" aria-label="The first rows as they will be taken">
        <thead className="text-muted">
          <tr>
            {["taken as", "database", "kind", "started", "ended", "size, store, message"].map((h) => (
              <th key={h} className="pr-3 font-normal">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r, at) => (
            <tr key={at} className="border-t border-line">
              <td className={`pr-3 ${r.what.endsWith("failed") ? "text-coral-text" : ""}`}>{r.what}</td>
              <td className="pr-3">{r.database}</td>
              <td className="pr-3">{r.kind}</td>
              <td className="pr-3 whitespace-nowrap">{r.started}</td>
              <td className="pr-3 whitespace-nowrap">{r.ended}</td>
              <td>{r.rest}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Databases of the table that nobody has enrolled, and which known ones they stand for. */
function Unknown(props: {
  unknown: ImportView["unknown"];
  stands: Record<string, string>;
  onChange: (stands: Record<string, string>) => void;
}) {
  const { unknown, stands, onChange } = props;
  const settled = Object.keys(stands).filter((w) => stands[w]);
  if (unknown.length === 0 && settled.length === 0) return null;
  const all = [...settled, ...unknown.map((u) => u.database).filter((d) => !settled.includes(d))];
  return (
    <div className="mt-2" data-testid="unknown-databases">
      {unknown.length > 0 && (
        <p className="text-ochre-text">
          {unknown.length === 1 ? "One database is" : `${count(unknown.length)} databases are`} not known
          here: {unknown.map((u) => `${u.database} (${count(u.facts)})`).join(", ")}. Their facts are kept,
          and count once they are enrolled.
        </p>
      )}
      <p className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
        {all.slice(0, 12).map((name) => (
          <span key={name} className="flex items-center gap-1.5">
            <b>{name}</b> stands for
            <DatabaseChoice
              label={`${name} stands for`}
              value={stands[name] ?? ""}
              none="itself"
              onChange={(id) => onChange({ ...stands, [name]: id })}
            />
          </span>
        ))}
      </p>
    </div>
  );
}

function Words(props: {
  field: string;
  mapping: Mapping;
  sample: Sample;
  onChange: (part: Partial<Mapping>) => void;
}) {
  const { field, mapping, sample } = props;
  const foreign = foreignWords(mapping, sample, field);
  if (foreign.length === 0) return null;
  const own = mapping.words[field] ?? {};
  return (
    <p className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1">
      {foreign.map((word) => (
        <label key={word} className="flex items-center gap-1.5">
          <b>{word}</b> stands for
          <select
            aria-label={`${word} stands for`}
            className="rounded border border-line bg-panel px-1.5 py-0.5"
            value={own[word] ?? ""}
            onChange={(e) =>
              props.onChange({ words: { ...mapping.words, [field]: { ...own, [word]: e.target.value } } })
            }
          >
            <option value="">–</option>
            {WORDED[field]?.map((w) => (
              <option key={w} value={w}>
                {w}
              </option>
            ))}
          </select>
        </label>
      ))}
    </p>
  );
}
