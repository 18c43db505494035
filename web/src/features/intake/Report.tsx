import { DialogTitle } from "@headlessui/react";
import { useState } from "react";
import type { ImportView } from "../../api/types";
import { count } from "../../time/words";

const SHOWN = 200;

function saveText(name: string, text: string) {
  const url = URL.createObjectURL(new Blob([text], { type: "text/plain" }));
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

/** What became of each line of a file, and the rejected ones to be saved, or corrected and sent again. */
export function Report(props: {
  report: ImportView;
  onAgain: (text: string, turning: boolean) => void;
  onClose: () => void;
}) {
  const { report } = props;
  const [text, setText] = useState<string | null>(null);
  const kept = report.rejected.filter((r) => r.text !== "");
  const lines = [...(report.header ? [report.header] : []), ...kept.map((r) => r.text)].join("\n");
  const turned = kept.filter((r) => r.reason.includes("turn=yes"));
  const turn = () =>
    props.onAgain([...(report.header ? [report.header] : []), ...turned.map((r) => r.text)].join("\n"), true);
  const save = () => saveText(`rejected-${report.file}`, lines + "\n");
  return (
    <>
      <DialogTitle className="text-box">Imported {report.file}</DialogTitle>
      <p className="mt-2">
        {count(report.lines)} {report.header ? "rows" : "lines"}: <b>{count(report.added)}</b> added,{" "}
        <b>{count(report.updated)}</b> updated, <b>{count(report.unchanged)}</b> unchanged,{" "}
        <b className={report.rejectedLines > 0 ? "text-coral-text" : ""}>{count(report.rejectedLines)}</b>{" "}
        rejected.
      </p>
      {report.unknown.length > 0 && (
        <p className="mt-2 text-ochre-text" data-testid="unknown-databases">
          {report.unknown.length === 1 ? "One database is" : `${count(report.unknown.length)} databases are`}{" "}
          not known here: {report.unknown.map((u) => `${u.database} (${count(u.facts)})`).join(", ")}. Their
          facts are kept, and count once they are enrolled in Fleet.
        </p>
      )}
      <Lines
        title="Rejected"
        note="Everything else in the file was taken."
        lines={report.rejected}
        total={report.rejectedLines}
      />
      {kept.length > 0 && text === null && (
        <p className="mt-2 flex gap-4">
          <button className="text-button" onClick={() => setText(lines)}>
            Correct them here…
          </button>
          <button className="text-button" onClick={save}>
            Save them as a file
          </button>
          {kept.length < report.rejectedLines && (
            <span className="text-muted">the first {count(kept.length)}</span>
          )}
        </p>
      )}
      {turned.length > 0 && text === null && <Turning lines={turned.length} onTurn={turn} />}
      {text !== null && (
        <>
          <textarea
            aria-label="Rejected lines, to be corrected"
            className="mt-2 h-40 w-full rounded border border-line bg-paper p-2 font-mono text-note"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <button className="ink-button" onClick={() => props.onAgain(text, false)}>
            Take these
          </button>
        </>
      )}
      <Lines title="Accepted, but odd" note="" lines={report.warnings} total={report.warnings.length} />
      <button
        className={`mt-5 ${text === null ? "ink-button" : "outline-button ml-3"}`}
        onClick={props.onClose}
      >
        Close
      </button>
    </>
  );
}

/** Lines that would make a known record another one are taken only by somebody who says so. */
function Turning({ lines, onTurn }: { lines: number; onTurn: () => void }) {
  return (
    <div className="mt-3 border-l-[3px] border-coral pl-3">
      <p>
        {lines === 1
          ? "One line would turn a known record into one"
          : `${count(lines)} lines would turn known records into ones`}{" "}
        of another database, kind or lineage. What was known of them would be gone.
      </p>
      <button className="text-button" onClick={onTurn}>
        Turn {lines === 1 ? "it" : "them"} all the same
      </button>
    </div>
  );
}

function Lines({
  title,
  note,
  lines,
  total,
}: {
  title: string;
  note: string;
  lines: ImportView["rejected"];
  total: number;
}) {
  if (lines.length === 0) return null;
  return (
    <>
      <h3 className="mt-5 text-lead">{title}</h3>
      {note && <p className="text-muted">{note}</p>}
      <table className="mt-1 w-full text-left">
        <thead className="text-note text-muted">
          <tr>
            <th className="w-16 font-normal">line</th>
            <th className="w-40 font-normal">field</th>
            <th className="font-normal">what is wrong</th>
          </tr>
        </thead>
        <tbody>
          {lines.slice(0, SHOWN).map((l, i) => (
            <tr key={i} className="border-t border-line align-top">
              <td className="py-1">{l.line}</td>
              <td className="py-1 font-mono text-note">{l.field || "–"}</td>
              <td className="py-1">{l.reason}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {total > SHOWN && <p className="text-muted">and {count(total - SHOWN)} more</p>}
    </>
  );
}
