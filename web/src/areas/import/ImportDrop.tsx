import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from "react";
import { importFile, type ImportView } from "../../api/client";
import { count } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";

type State =
  | { step: "idle" }
  | { step: "sending"; file: string; share: number; stop: AbortController }
  | { step: "done"; report: ImportView }
  | { step: "failed"; error: Error };

const ImportContext = createContext<() => void>(() => {});

/** Opens the choice of a file to import. */
export const useImport = () => useContext(ImportContext);

/** Takes fleet files dropped anywhere on the page, shows how far they are, and what became of each line. */
export function ImportDrop({ children }: { children: ReactNode }) {
  const [state, setState] = useState<State>({ step: "idle" });
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();

  useEffect(() => {
    const send = (file: File) => {
      const stop = new AbortController();
      setState({ step: "sending", file: file.name, share: 0, stop });
      importFile(file, (share) => setState((s) => (s.step === "sending" ? { ...s, share } : s)), stop.signal)
        .then((report) => setState({ step: "done", report }))
        .catch((error: Error) => setState({ step: "failed", error }))
        .finally(() => void queries.invalidateQueries());
    };
    const files = (e: DragEvent) => e.dataTransfer?.types.includes("Files") ?? false;
    const onOver = (e: DragEvent) => {
      if (!files(e)) return;
      e.preventDefault();
      setOver(true);
    };
    const onLeave = (e: DragEvent) => e.relatedTarget === null && setOver(false);
    const onDrop = (e: DragEvent) => {
      if (!files(e)) return;
      e.preventDefault();
      setOver(false);
      const file = e.dataTransfer?.files[0];
      if (file) send(file);
    };
    const field = input.current;
    const onChoose = () => {
      const file = field?.files?.[0];
      if (file) send(file);
      if (field) field.value = "";
    };
    window.addEventListener("dragover", onOver);
    window.addEventListener("dragleave", onLeave);
    window.addEventListener("drop", onDrop);
    field?.addEventListener("change", onChoose);
    return () => {
      window.removeEventListener("dragover", onOver);
      window.removeEventListener("dragleave", onLeave);
      window.removeEventListener("drop", onDrop);
      field?.removeEventListener("change", onChoose);
    };
  }, [queries]);

  const close = () => {
    if (state.step === "sending") state.stop.abort();
    else setState({ step: "idle" });
  };

  return (
    <ImportContext value={() => input.current?.click()}>
      {children}
      <input
        ref={input}
        type="file"
        className="hidden"
        data-testid="import-file"
        aria-label="Fleet file to import"
      />
      {over && (
        <div className="pointer-events-none fixed inset-3 z-50 flex items-center justify-center rounded-xl border-2 border-dashed border-ink bg-panel/90">
          <p className="font-serif text-[24px]">Drop the fleet file to import it</p>
        </div>
      )}
      <Dialog open={state.step !== "idle"} onClose={close} className="relative z-40">
        <div className="fixed inset-0 flex items-center justify-center bg-ink/20 p-6">
          <DialogPanel
            className="max-h-full w-[760px] overflow-y-auto rounded-xl border border-ink bg-panel p-6 shadow-xl"
            data-testid="import-report"
          >
            {state.step === "sending" && (
              <>
                <DialogTitle className="text-[22px]">Importing {state.file}</DialogTitle>
                <progress className="mt-3 w-full" value={state.share} max={1} aria-label="Sent" />
                <p className="text-muted">
                  {state.share < 1 ? `${Math.round(state.share * 100)} % sent` : "Sent; taking it in."}{" "}
                  Nothing counts until all of it is in.
                </p>
                <button className="outline-button mt-4" onClick={close}>
                  Stop
                </button>
              </>
            )}
            {state.step === "failed" && (
              <>
                <DialogTitle className="text-[22px]">Not imported</DialogTitle>
                <ProblemNote error={state.error} />
                <button className="outline-button" onClick={close}>
                  Close
                </button>
              </>
            )}
            {state.step === "done" && <Report report={state.report} onClose={close} />}
          </DialogPanel>
        </div>
      </Dialog>
    </ImportContext>
  );
}

function Report({ report, onClose }: { report: ImportView; onClose: () => void }) {
  return (
    <>
      <DialogTitle className="text-[22px]">Imported {report.file}</DialogTitle>
      <p className="mt-2">
        {count(report.lines)} lines: <b>{count(report.added)}</b> added, <b>{count(report.updated)}</b>{" "}
        updated, <b>{count(report.unchanged)}</b> unchanged,{" "}
        <b className={report.rejectedLines > 0 ? "text-coral-text" : ""}>{count(report.rejectedLines)}</b>{" "}
        rejected.
      </p>
      <Lines
        title="Rejected"
        note="Everything else in the file was taken."
        lines={report.rejected}
        total={report.rejectedLines}
      />
      <Lines title="Taken, but odd" note="" lines={report.warnings} total={report.warnings.length} />
      <button className="ink-button mt-5" onClick={onClose}>
        Close
      </button>
    </>
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
      <h3 className="mt-5 text-[16px]">{title}</h3>
      {note && <p className="text-muted">{note}</p>}
      <table className="mt-1 w-full text-left">
        <thead className="text-[12px] text-muted">
          <tr>
            <th className="w-16 font-normal">line</th>
            <th className="w-40 font-normal">field</th>
            <th className="font-normal">what is wrong</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((l, i) => (
            <tr key={i} className="border-t border-line align-top">
              <td className="py-1">{l.line}</td>
              <td className="py-1 font-mono text-[12px]">{l.field || "–"}</td>
              <td className="py-1">{l.reason}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {total > lines.length && <p className="text-muted">and {count(total - lines.length)} more</p>}
    </>
  );
}
