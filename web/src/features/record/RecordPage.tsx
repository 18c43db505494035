import { useState } from "react";
import type { Schemas } from "../../api/types";
import { useRecord, walkRecord } from "../../api/session";
import { deedText } from "./deeds";
import { longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { WordsField } from "../../ui/WordsField";
import { useAsked } from "../../ui/useAsked";

type Wholeness = Schemas["Wholeness"];

/** What people and programs did, and whether that is whole. */
export function RecordPage() {
  const [params, { ask }] = useAsked();
  const words = params.get("words") ?? "";
  const [pages, setPages] = useState<(number | null)[]>([null]);
  const before = pages[pages.length - 1] ?? null;
  const { data, error } = useRecord(before, words);
  const [whole, setWhole] = useState<Wholeness | null>(null);
  const { run, pending, problem } = useCommand();
  const last = data?.deeds[data.deeds.length - 1];
  return (
    <main className="px-5 py-4">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <h1 className="text-page leading-tight">Record</h1>
        <p className="text-muted">
          What people and programs did. Each entry is chained to the one before; nothing is ever taken out.
        </p>
        <span className="ml-auto flex items-center gap-3">
          <button
            className="outline-button"
            disabled={pending}
            onClick={() => void run(walkRecord, setWhole)}
          >
            Is it whole?
          </button>
          <a className="text-button" href="/api/record/export" download="record.ndjson">
            Export
          </a>
        </span>
      </div>
      {(error ?? problem) && <ProblemNote error={(error ?? problem) as Error} />}
      {whole && <Whole whole={whole} />}
      <p className="mt-3">
        <WordsField
          label="Words in the record"
          initial={words}
          className="w-72 py-1"
          onChange={(text) => {
            setPages([null]);
            ask("words", text);
          }}
        />
      </p>
      {before === null && words === "" && <Delivering delivering={data?.delivering ?? []} />}
      <table className="mt-3 w-full table-fixed text-left">
        <thead className="text-note text-muted">
          <tr>
            <th className="w-16 py-1 font-normal">No</th>
            <th className="w-48 font-normal">When ({viewerZone})</th>
            <th className="w-56 font-normal">Who</th>
            <th className="font-normal">What</th>
            <th className="w-36 font-normal">Hash</th>
          </tr>
        </thead>
        <tbody>
          {data?.deeds.map((d) => (
            <DeedRow key={d.number} d={d} />
          ))}
        </tbody>
      </table>
      {data?.deeds.length === 0 && <p className="mt-3 text-muted">Nothing in the record has these words.</p>}
      <p className="mt-3 flex gap-4">
        {pages.length > 1 && (
          <button className="text-button" onClick={() => setPages(pages.slice(0, -1))}>
            Newer
          </button>
        )}
        {data?.more && last && (
          <button className="text-button" onClick={() => setPages([...pages, last.number])}>
            Older
          </button>
        )}
      </p>
    </main>
  );
}

const NAMED = 3;

/** What programs delivered in this hour, of which there is no entry yet. */
function Delivering({ delivering }: { delivering: Schemas["Delivering"][] }) {
  if (delivering.length === 0) return null;
  const facts = delivering.reduce((sum, d) => sum + d.added + d.updated, 0);
  const names = delivering.slice(0, NAMED).map((d) => d.source);
  const more = delivering.length - names.length;
  return (
    <p className="mt-3 text-muted" data-testid="delivering">
      In this hour so far, to be entered when it is over: {facts} facts from {names.join(", ")}
      {more > 0 && ` and ${more} more`}.
    </p>
  );
}

function DeedRow(props: { d: Schemas["DeedView"] }) {
  const { d } = props;
  return (
    <tr className="border-t border-line align-top">
      <td className="py-1.5">{d.number}</td>
      <td className="py-1.5">{longMoment(d.at, viewerZone)}</td>
      <td className="py-1.5 pr-2 break-words">{d.who}</td>
      <td className="py-1.5">
        <details>
          <summary>{deedText(d)}</summary>
          <p className="text-note text-muted">
            {d.act.replace(/-/g, " ")}, {d.about}
          </p>
          <pre className="mt-1 max-h-64 overflow-auto font-mono text-note whitespace-pre-wrap">
            {JSON.stringify(d.detail, null, 1)}
          </pre>
        </details>
      </td>
      <td className="py-1.5 font-mono text-note" title={d.hash}>
        {d.hash.slice(0, 12)}…
      </td>
    </tr>
  );
}

function Whole({ whole }: { whole: Wholeness }) {
  return (
    <div
      role="status"
      className={`mt-3 border-l-[3px] pl-3 ${whole.broken === null ? "border-water-3" : "border-coral"}`}
    >
      {whole.broken === null ? (
        <p>All {whole.length} entries follow from one another.</p>
      ) : (
        <p className="text-coral-text">
          Entry {whole.broken} does not fit: {whole.what}. The {whole.length} before it are whole.
        </p>
      )}
      <p className="text-note text-muted">
        Last whole entry: <span className="font-mono break-all">{whole.head}</span>. Write it down elsewhere:
        only with it can you tell that the end was cut off.
      </p>
    </div>
  );
}
