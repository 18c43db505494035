import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useQueryClient } from "@tanstack/react-query";
import { createContext, useCallback, useContext, useEffect, useRef, useState, type ReactNode } from "react";
import { importFile, type ImportView } from "../../api/client";
import { ProblemNote } from "../../ui/ProblemNote";
import { MapTable } from "./MapTable";
import { isTable, sampleOf, type Sample } from "./mapping";
import { Report } from "./Report";

/** So much of a table is looked at to say how it is to be read. */
const SAMPLE_BYTES = 200_000;

type State =
  | { step: "idle" }
  | { step: "mapping"; file: File; sample: Sample }
  | { step: "sending"; file: string; share: number; stop: AbortController }
  | { step: "done"; report: ImportView; mapping?: object }
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

  const send = useCallback(
    (file: File, mapping?: object, turning = false) => {
      const stop = new AbortController();
      setState({ step: "sending", file: file.name, share: 0, stop });
      const told = (share: number) => setState((s) => (s.step === "sending" ? { ...s, share } : s));
      importFile(file, told, stop.signal, mapping, turning)
        .then((report) => setState({ step: "done", report, ...(mapping ? { mapping } : {}) }))
        .catch((error: Error) => setState({ step: "failed", error }))
        .finally(() => void queries.invalidateQueries());
    },
    [queries],
  );

  useEffect(() => {
    const look = async (file: File) => {
      if (!(await isTable(file))) return send(file);
      const text = await file.slice(0, SAMPLE_BYTES).text();
      setState({ step: "mapping", file, sample: sampleOf(text, file.size <= SAMPLE_BYTES) });
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
      if (file) void look(file);
    };
    const field = input.current;
    const onChoose = () => {
      const file = field?.files?.[0];
      if (file) void look(file);
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
  }, [send]);

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
        aria-label="Fleet file or table to import"
      />
      {over && (
        <div className="pointer-events-none fixed inset-3 z-50 flex items-center justify-center rounded-xl border-2 border-dashed border-ink bg-panel/90">
          <p className="font-serif text-[24px]">Drop the fleet file or table to import it</p>
        </div>
      )}
      <Dialog open={state.step !== "idle"} onClose={close} className="relative z-40">
        <div className="fixed inset-0 flex items-center justify-center bg-ink/20 p-6">
          <DialogPanel
            className="max-h-full w-[760px] overflow-y-auto rounded-xl border border-ink bg-panel p-6 shadow-xl"
            data-testid="import-report"
          >
            {state.step === "mapping" && (
              <MapTable
                name={state.file.name}
                sample={state.sample}
                onTake={(mapping) => send(state.file, mapping)}
                onStop={close}
              />
            )}
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
            {state.step === "done" && (
              <Report
                report={state.report}
                onAgain={(text, turning) => send(new File([text], state.report.file), state.mapping, turning)}
                onClose={close}
              />
            )}
          </DialogPanel>
        </div>
      </Dialog>
    </ImportContext>
  );
}
