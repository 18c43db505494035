import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { Figure, HistoryLine, Line } from "../../api/types";
import { useLine } from "./api";
import { useView } from "../../time/view";
import { longMoment, moment, size, span } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { useWidth } from "../../ui/useWidth";
import { whyOf } from "../../why/context";
import { besideWords } from "./Beside";
import { CourseChart } from "./CourseChart";
import { KIND_NAMES } from "./filter";
import { KindMark } from "./KindMark";
import { rate, took } from "./say";

/** One run, or one backup: how it went, what hangs from it and where its copies are. */
export function LinePage() {
  const { "*": id = "" } = useParams();
  const view = useView();
  const line = useLine(id, view.params);
  useEffect(() => {
    document.title = `${id} · Firth`;
  }, [id]);
  if (line.error) return <ProblemNote error={line.error} />;
  if (!line.data) return <main className="h-96 animate-pulse px-5 py-6" aria-busy />;
  return <Detail data={line.data} />;
}

function Detail({ data }: { data: HistoryLine }) {
  const { line } = data;
  const { search } = useView();
  const [box, width] = useWidth<HTMLDivElement>();
  const zone = line.zone;
  const what = KIND_NAMES[line.kind];
  return (
    <main className="grid grid-cols-[minmax(0,1fr)_360px] max-[1000px]:grid-cols-1">
      <div className="px-5 pt-3 pb-10">
        <p className="text-small">
          <Link className="text-button" to={`/history${search}`}>
            History
          </Link>{" "}
          <span className="text-muted">of</span>{" "}
          <Link className="text-button" to={`/databases/${encodeURIComponent(line.database)}${search}`}>
            {line.name}
          </Link>
        </p>
        <h1 className="mt-1 flex items-center gap-2 text-page">
          <KindMark kind={line.kind} outcome={line.outcome} />
          {what.charAt(0).toUpperCase() + what.slice(1)} of {longMoment(line.started, zone)}
        </h1>
        <p className={line.outcome === "failed" ? "text-coral-text" : ""}>
          {outcomeWords(data)} <span className="text-muted">Times in {zone}.</span>
        </p>
        <p className="font-mono text-note break-all text-muted">
          {line.id}
          {line.backup && line.backup !== line.id ? ` made ${line.backup}` : ""}
        </p>
        {data.inLogs && (
          <p className="text-note text-muted">
            In the logs of lineage {data.inLogs.lineage}:{" "}
            <span className="font-mono">{data.inLogs.from}</span> to{" "}
            <span className="font-mono">{data.inLogs.to}</span>
            {data.inLogs.transactions && (
              <>
                , transactions up to <span className="font-mono">{data.inLogs.transactions}</span>
              </>
            )}
          </p>
        )}
        <div ref={box}>
          {width > 0 && data.stretches.length > 0 && (
            <>
              <h2 className="mt-4 text-section">How it went</h2>
              <CourseChart line={data} width={width} zone={zone} />
            </>
          )}
        </div>
        {data.output && (
          <>
            <h2 className="mt-4 text-section">What the engine said</h2>
            <pre className="mt-1 max-h-72 overflow-auto rounded border border-line bg-panel p-3 font-mono text-note whitespace-pre-wrap">
              {data.output}
            </pre>
          </>
        )}
        <Copies data={data} />
        <Hanging data={data} />
      </div>
      <LineAside line={line} data={data} />
    </main>
  );
}

function LineAside(props: { line: Line; data: HistoryLine }) {
  const { line, data } = props;
  return (
    <aside className="border-l border-line bg-panel px-5 pt-4 pb-8 max-[1000px]:border-l-0">
      <h2 className="text-section">Beside what is usual</h2>
      <dl className="mt-1">
        <Measured name="took" figure={line.seconds} say={took} />
        <Measured name="size" figure={line.bytes} say={size} />
        <Measured name="rate of writing" figure={line.perSecond} say={rate} />
      </dl>
      <p className="mt-2 text-muted">
        {line.bytesRead !== null ? `${size(line.bytesRead)} read from the database. ` : ""}
        {line.parallel !== null ? `${line.parallel} sessions side by side. ` : ""}
        {data.traits.length > 0 ? `It is ${data.traits.join(", ")}.` : ""}
      </p>
      {line.demanded && (
        <p className={line.broken.length > 0 ? "text-ochre-text" : ""}>
          {line.broken.length > 0
            ? `The policy demands that it be ${line.broken.join(" and ")}: it is not, as far as anyone said.`
            : "It is what its policy demands."}
        </p>
      )}
      {data.ordered && (
        <p className="mt-2" data-testid="ordered">
          {data.ordered.name && <b>{data.ordered.name}. </b>}
          Wanted by {data.ordered.by}: {data.ordered.reason}
        </p>
      )}
      {line.uncounted && (
        <p className="mt-2 border-l-[3px] border-ochre pl-3 text-ochre-text">It {line.uncounted}.</p>
      )}
      {data.note && <p className="mt-2">“{data.note}”</p>}
      <SlotOf data={data} />
    </aside>
  );
}

function outcomeWords({ line, trigger }: HistoryLine): string {
  const how =
    trigger === "hand" ? "Started by hand. " : trigger === "schedule" ? "Started by its schedule. " : "";
  if (line.outcome === "running") return `${how}It is still running.`;
  const after = line.seconds ? ` after ${took(line.seconds.own)}` : "";
  if (line.outcome === "ok") return `${how}It went well${after}.`;
  return `${how}It ${line.outcome === "failed" ? "failed" : "was cancelled"}${after}${line.message ? `: ${line.message}` : ""}.`;
}

function Measured(props: { name: string; figure: Figure | null; say: (v: number) => string }) {
  if (!props.figure) return null;
  return (
    <div className="border-t border-line py-1.5">
      <dt className="flex justify-between">
        {props.name}
        <b className={props.figure.unusual ? "text-ochre-text" : ""}>{props.say(props.figure.own)}</b>
      </dt>
      <dd className="text-small text-muted">{besideWords(props.figure, props.say)}</dd>
    </div>
  );
}

function SlotOf({ data }: { data: HistoryLine }) {
  const { line, slot, attempts } = data;
  const { search } = useView();
  if (!slot)
    return line.kind === "log" ? null : (
      <>
        <h2 className="mt-5 text-section">Slot</h2>
        <p className="text-muted">It belongs to no slot that opens in this period.</p>
      </>
    );
  const why = { database: line.database, about: "slot", schedule: slot.schedule, at: slot.open } as const;
  return (
    <>
      <h2 className="mt-5 text-section">Slot</h2>
      <p>
        {slot.schedule}, {span(slot.open, slot.close, line.zone)}:{" "}
        <button className="font-bold" {...whyOf(why, line.zone)} title="w asks why">
          {slot.verdict}
        </button>
        {line.spillSeconds > 0 ? `, ${took(line.spillSeconds)} outside the open hours` : ""}
      </p>
      <ol className="mt-1">
        {attempts.map((a) => (
          <li key={a.id} className="border-t border-line py-1">
            {a.id === line.id || a.id === line.backup ? (
              <b>{moment(a.started, line.zone)}</b>
            ) : (
              <Link className="text-button" to={`/history/${a.id}${search}`}>
                {moment(a.started, line.zone)}
              </Link>
            )}{" "}
            {a.state === "ok" ? "went well" : a.state === "running" ? "is running" : "did not"}
            {a.message ? `: ${a.message}` : ""}
          </li>
        ))}
      </ol>
    </>
  );
}

/** How the times and positions of a copy are known. */
const EVIDENCE: Record<string, string> = {
  told: "by the word of a job",
  listed: "a file of that size is there",
  read: "parsed from its own bytes",
  checked: "the checksums of all bytes agree",
  verified: "the engine's own check passed",
  restored: "a drill used it",
};

function Copies({ data }: { data: HistoryLine }) {
  if (data.copies.length === 0) return null;
  const zone = data.line.zone;
  return (
    <>
      <h2 className="mt-4 text-section">Where its copies are</h2>
      <table className="mt-1 w-full text-left">
        <thead className="text-note text-muted">
          <tr>
            <th className="font-normal">store</th>
            <th className="font-normal">landed</th>
            <th className="font-normal">now</th>
            <th className="font-normal">evidence</th>
            <th className="font-normal">path</th>
          </tr>
        </thead>
        <tbody>
          {data.copies.map((c) => (
            <tr key={c.store} className="border-t border-line align-top">
              <td className="py-1 pr-3">{c.name}</td>
              <td className="py-1 pr-3 whitespace-nowrap" title={c.landed}>
                {moment(c.landed, zone)}
              </td>
              <td className="py-1 pr-3">
                {c.gone
                  ? `deleted ${moment(c.gone, zone)}`
                  : c.spoiled
                    ? `found spoiled ${moment(c.spoiled, zone)}`
                    : (c.verdict ?? "there")}
                {c.lockedUntil && !c.gone ? `, locked until ${moment(c.lockedUntil, zone)}` : ""}
              </td>
              <td className="py-1 pr-3" title={EVIDENCE[c.evidence.is]}>
                {c.evidence.is}
                {c.evidence.by && <span className="text-muted"> by {c.evidence.by}</span>}
              </td>
              <td className="py-1 font-mono text-note break-all">{c.path ?? "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Hanging({ data }: { data: HistoryLine }) {
  const { search } = useView();
  const zone = data.line.zone;
  if (data.chain.length + data.hanging.length + data.made.length === 0) return null;
  const items = (list: HistoryLine["chain"]) =>
    list.map((h) => (
      <li key={h.backup}>
        <Link className="text-button" to={`/history/${h.backup}${search}`}>
          {KIND_NAMES[h.kind]} of {moment(h.at, zone)}
        </Link>
      </li>
    ));
  return (
    <div className="mt-4 grid grid-cols-2 gap-6">
      {data.chain.length > 0 && (
        <section>
          <h2 className="text-section">What it hangs from</h2>
          <ol>{items(data.chain)}</ol>
        </section>
      )}
      {data.hanging.length > 0 && (
        <section>
          <h2 className="text-section">What hangs from it</h2>
          <ol>{items(data.hanging)}</ol>
        </section>
      )}
      {data.made.length > 0 && (
        <section>
          <h2 className="text-section">What the same run made</h2>
          <ol>{items(data.made)}</ol>
        </section>
      )}
    </div>
  );
}
