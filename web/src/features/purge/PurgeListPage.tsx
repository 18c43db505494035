import { useRef, useState, type RefObject } from "react";
import { Link, useParams } from "react-router";
import { approvePurge, tellByHand, turnPurge, usePurgeList, usePurgeShelves, type PurgeList } from "./api";
import { count, duration, longMoment, size, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { Groups } from "./Groups";
import { STATES } from "./Lists";
import { OUTCOMES } from "./outcomes";
import { Overview } from "./Overview";
import { Proved } from "./Proved";
import type { Schemas } from "../../api/types";

/** One list: what was proved, who approved it, how far it has come, and what was found afterwards. */
export function PurgeListPage() {
  const { id = "" } = useParams();
  const { data, error } = usePurgeList(id);
  const going = useCommand(["purge"]);
  // Stopping never waits for what it is to stop.
  const halting = useCommand(["purge"]);
  const problem = halting.problem ?? going.problem;
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return null;
  return (
    <main className="px-5 py-3">
      <p>
        <Link className="text-button" to={`/purge?store=${data.store ?? "all"}`}>
          Purge
        </Link>
      </p>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-page leading-tight">
          {size(data.asked)} in {data.storeName}
        </h1>
        <span className="text-lead font-semibold" data-testid="purge-state">
          {STATES[data.state]}
        </span>
        <span className="text-muted">
          asked by {data.askedBy}, {longMoment(data.askedAt, viewerZone)}: {data.reason}
        </span>
      </div>
      {problem && <ProblemNote error={problem} />}
      {data.trouble && (
        <p role="alert" className="mt-2 border-l-[3px] border-coral pl-3 text-coral-text">
          Nothing more is deleted by this list: {data.trouble}.
        </p>
      )}
      {data.belied.map((b) => (
        <p
          key={b.storeName + b.toldBy}
          role="alert"
          className="mt-2 border-l-[3px] border-coral pl-3 text-coral-text"
        >
          {b.toldBy} told that {b.files === 1 ? "a file" : `${count(b.files)} files`} in {b.storeName}{" "}
          {b.files === 1 ? "was" : "were"} gone; the listing of {longMoment(b.listed, viewerZone)} still has{" "}
          {b.files === 1 ? "it" : "them"}
          {b.files === 1 ? ": " : ", among them "}
          <span className="font-mono text-note break-all">{b.path}</span>.
        </p>
      ))}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_372px] items-start gap-x-5 max-[1000px]:grid-cols-1">
        <div>
          <Tally data={data} />
          <Groups data={data} />
          <Shelved data={data} />
        </div>
        <aside className="space-y-4">
          <Steps data={data} onDo={(act) => void going.run(act)} onHalt={(act) => void halting.run(act)} />
          <AsProved data={data} />
          {data.after && <After after={data.after} />}
        </aside>
      </div>
    </main>
  );
}

/** How far it has come. */
function Tally({ data }: { data: PurgeList }) {
  const total = data.tallies.reduce((sum, t) => sum + t.items, 0);
  const over = data.tallies
    .filter((t) => t.state !== "waiting" && t.state !== "handed")
    .reduce((sum, t) => sum + t.items, 0);
  const drops = data.now.reduce((sum, c) => sum + c.items, 0);
  return (
    <section aria-label="Progress">
      <div
        className="h-2.5 w-full border border-line bg-panel"
        role="progressbar"
        aria-label="How far it has come"
        aria-valuenow={over}
        aria-valuemax={total}
      >
        <div className="h-full bg-water-2" style={{ width: `${(100 * over) / Math.max(1, total)}%` }} />
      </div>
      <p className="mt-1" data-testid="purge-tally">
        {data.tallies.map((t) => `${count(t.items)} ${OUTCOMES[t.state]} (${size(t.bytes)})`).join(", ")}
        {data.freed !== null && (
          <>
            . Asked to free {size(data.asked)}, <b>measured {size(data.freed)}</b>
          </>
        )}
        .
      </p>
      {data.now.length > 0 && (
        <div className="mt-1 border-l-[3px] border-ochre pl-3">
          <p>{drops === 1 ? "One item drops" : `${count(drops)} items drop`} out as things stand now:</p>
          {data.now.map((c) => (
            <p key={c.why} className="text-small">
              <span className="font-mono text-note">{c.backup}</span>
              {c.items > 1 && ` and ${count(c.items - 1)} more`}: {c.why}
            </p>
          ))}
        </div>
      )}
    </section>
  );
}

/** What was done and by whom, and what may be done next. */
type Does = (act: () => Promise<unknown>) => void;

function Steps({ data, onDo, onHalt }: { data: PurgeList; onDo: Does; onHalt: Does }) {
  const file = useRef<HTMLInputElement>(null);
  const may = (what: string) => data.may.includes(what);
  const waits = data.approvalsNeeded - data.approvals.length;
  return (
    <section
      aria-label="Steps"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="purge-steps"
    >
      <h2 className="text-section">Steps</h2>
      <p className="mt-1">
        Asked by {data.askedBy}
        {data.deed !== null && (
          <>
            ,{" "}
            <Link className="text-button" to={`/record?words=${data.id}`}>
              entry {data.deed} of the record
            </Link>
          </>
        )}
      </p>
      {data.approvals.map((a) => (
        <p key={a.person}>
          Approved by {a.person}, {longMoment(a.at, viewerZone)}
        </p>
      ))}
      {data.state === "asked" && (
        <p className="text-muted">
          {waits === 1 ? "One other person has" : `${waits} other people have`} to approve it. Whoever asked
          cannot.
        </p>
      )}
      <p className="mt-1 text-note break-all text-muted">
        {data.whole ? "Sealed" : "Its seal is broken:"} <span className="font-mono">{data.hash}</span>
      </p>
      <StepButtons may={may} onDo={onDo} data={data} onHalt={onHalt} />
      {data.state === "running" && (
        <p className="mt-2 text-note text-muted">
          The store's agent takes the items batch by batch; each batch is proved again first.
        </p>
      )}
      {data.whole && !["stopped", "cancelled", "done"].includes(data.state) && (
        <p className="mt-3 text-small">
          Save the list:{" "}
          {["csv", "ndjson", "sh"].map((f) => (
            <a key={f} className="text-button mr-2" href={`/api/purge/${data.id}/list.${f}`} download>
              {f === "sh" ? "script" : f}
            </a>
          ))}
        </p>
      )}
      <p className="mt-1 text-small">
        Every item with its outcome:{" "}
        {["csv", "ndjson"].map((f) => (
          <a key={f} className="text-button mr-2" href={`/api/purge/${data.id}/outcomes.${f}`} download>
            {f}
          </a>
        ))}
      </p>
      {may("tell") && <ToldByHand file={file} onDo={onDo} data={data} />}
    </section>
  );
}

function StepButtons(props: {
  may: (what: string) => boolean;
  onDo: Does;
  data: Schemas["PurgeList"];
  onHalt: Does;
}) {
  const { may, onDo, data, onHalt } = props;
  return (
    <div className="mt-3 flex flex-wrap gap-2">
      {may("approve") && (
        <button className="ink-button" onClick={() => onDo(() => approvePurge(data.id, data.hash))}>
          Approve
        </button>
      )}
      {may("carry-out") && (
        <button className="ink-button" onClick={() => onDo(() => turnPurge(data.id, "carry-out"))}>
          {data.state === "paused" ? "Go on" : "Carry out"}
        </button>
      )}
      {may("pause") && (
        <button className="outline-button" onClick={() => onHalt(() => turnPurge(data.id, "pause"))}>
          Pause
        </button>
      )}
      {may("cancel") && (
        <button className="outline-button" onClick={() => onHalt(() => turnPurge(data.id, "cancel"))}>
          Cancel it
        </button>
      )}
    </div>
  );
}

function ToldByHand(props: {
  file: RefObject<HTMLInputElement | null>;
  onDo: Does;
  data: Schemas["PurgeList"];
}) {
  const { file, onDo, data } = props;
  return (
    <p className="text-small">
      Deleted by hand?{" "}
      <button className="text-button" onClick={() => file.current?.click()}>
        Tell with the table of outcomes…
      </button>
      <input
        ref={file}
        type="file"
        accept=".csv"
        className="hidden"
        aria-label="Table of outcomes"
        onChange={(e) => {
          const table = e.target.files?.[0];
          if (table) onDo(() => tellByHand(data.id, data.hash, table));
          e.target.value = "";
        }}
      />
    </p>
  );
}

/** What was proved when it was asked for: what the asker saw. */
function AsProved({ data }: { data: PurgeList }) {
  return (
    <section
      aria-label="Proved when it was asked for"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="proof"
    >
      <h2 className="text-section">Proved when it was asked for</h2>
      <ul className="mt-1 space-y-1">
        <Proved proofs={data.proofs} copies={data.proofs.reduce((sum, p) => sum + p.copies, 0)} />
      </ul>
      {!["stopped", "cancelled", "done"].includes(data.state) && (
        <p className="mt-1 text-note text-muted">
          {data.now.length === 0
            ? "Nothing has changed since: it is true as things stand now."
            : "What has changed since drops out; the rest was proved again just now."}
        </p>
      )}
    </section>
  );
}

/** What lay in the stores when it was asked for. */
function Shelved({ data }: { data: PurgeList }) {
  const [open, setOpen] = useState(data.state === "asked");
  const { data: rows } = usePurgeShelves(data.id, open);
  return (
    <section aria-label="Shelves as they were" className="mt-4">
      <h2 className="text-section">
        <button className="text-button" aria-expanded={open} onClick={() => setOpen(!open)}>
          Shelves when it was asked for
        </button>
      </h2>
      {open && !rows && <p className="text-muted">Judging what lay there…</p>}
      {open && rows && <Overview rows={rows} asOf={data.askedAt} many={data.store === null} />}
    </section>
  );
}

function After({ after }: { after: NonNullable<PurgeList["after"]> }) {
  return (
    <section
      aria-label="Afterwards"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="purge-after"
    >
      <h2 className="text-section">Afterwards</h2>
      <p className="mt-1">
        {after.equal
          ? "Cover within reach is what it was before."
          : "Cover within reach is not what it was before."}
      </p>
      <table className="mt-1 w-full text-left text-small">
        <thead className="text-note text-muted">
          <tr>
            <th className="font-normal">Database</th>
            <th className="text-right font-normal">before</th>
            <th className="text-right font-normal">after</th>
          </tr>
        </thead>
        <tbody>
          {after.covers.map((c) => (
            <tr key={c.database} className="border-t border-line">
              <td>{c.database}</td>
              <td className="text-right">{c.since ? duration(c.secondsBefore) : "points"}</td>
              <td className={`text-right ${c.equal ? "" : "text-coral-text"}`}>
                {c.since ? duration(c.secondsAfter) : c.equal ? "the same" : "fewer"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-note text-muted">Computed again at {longMoment(after.at, viewerZone)}.</p>
    </section>
  );
}
