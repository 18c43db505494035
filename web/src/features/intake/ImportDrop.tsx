import { asError } from "../../api/client";
import { DialogTitle } from "@headlessui/react";
import { DialogBox } from "../../ui/DialogBox";
import { useQueryClient } from "@tanstack/react-query";
import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useRef,
  useState,
  type ReactNode,
  type RefObject,
} from "react";
import type { ImportView } from "../../api/types";
import { importFile } from "./api";
import { ProblemNote } from "../../ui/ProblemNote";
import { MapTable } from "./MapTable";
import { isTable, sampleOf, type Sample } from "./mapping";
import { Report } from "./Report";

/** So much of a table is looked at to say how it is to be read. */
const SAMPLE_BYTES = 200_000;

/** A file to be taken in; a table with how it is to be read, once somebody has said so. */
type Chosen = { file: File; sample?: Sample; mapping?: object };
type Result = { file: string } & ({ report: ImportView; mapping?: object } | { error: Error });

type State =
  | { step: "idle" }
  | { step: "mapping"; files: Chosen[] }
  | { step: "sending"; file: string; share: number; stop: AbortController }
  | { step: "done"; results: Result[] };

const unread = (files: Chosen[]) => files.filter((f) => f.sample && !f.mapping);

const ImportContext = createContext<() => void>(() => {});

/** Opens the choice of a file to import. */
export const useImport = () => useContext(ImportContext);

/** A file with its first rows where it is a table. */
async function withSample(file: File): Promise<Chosen> {
  if (!(await isTable(file))) return { file };
  const text = await file.slice(0, SAMPLE_BYTES).text();
  return { file, sample: sampleOf(text, file.size <= SAMPLE_BYTES) };
}

/** Files dropped anywhere on the page or chosen in a field; tells whether some are held over the page. */
function useDropped(input: RefObject<HTMLInputElement | null>, onFiles: (files: File[]) => unknown): boolean {
  const [over, setOver] = useState(false);
  useEffect(() => {
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
      onFiles([...(e.dataTransfer?.files ?? [])]);
    };
    const field = input.current;
    const onChoose = () => {
      onFiles([...(field?.files ?? [])]);
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
  }, [input, onFiles]);
  return over;
}

/** Takes fleet files dropped anywhere on the page, shows how far they are, and what became of each line. */
export function ImportDrop({ children }: { children: ReactNode }) {
  const [state, setState] = useState<State>({ step: "idle" });
  const input = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();

  const send = useCallback(
    async (files: Chosen[], turning = false) => {
      const stop = new AbortController();
      const results: Result[] = [];
      for (const { file, mapping } of files) {
        setState({ step: "sending", file: file.name, share: 0, stop });
        const told = (share: number) => setState((s) => (s.step === "sending" ? { ...s, share } : s));
        results.push(
          await importFile(file, told, stop.signal, mapping, turning).then(
            (report) => ({ file: file.name, report, ...(mapping ? { mapping } : {}) }),
            (e: unknown) => ({ file: file.name, error: asError(e) }),
          ),
        );
      }
      setState({ step: "done", results });
      void queries.invalidateQueries();
    },
    [queries],
  );

  const look = useCallback(
    async (chosen: File[]) => {
      const files = await Promise.all(chosen.map(withSample));
      if (unread(files).length > 0) setState({ step: "mapping", files });
      else if (files.length > 0) void send(files);
    },
    [send],
  );
  const over = useDropped(input, look);

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
        multiple
        className="hidden"
        data-testid="import-file"
        aria-label="Fleet file or table to import"
      />
      {over && (
        <div className="pointer-events-none fixed inset-3 z-50 flex items-center justify-center rounded-xl border-2 border-dashed border-ink bg-panel/90">
          <p className="font-serif text-box">Drop the fleet file or table to import it</p>
        </div>
      )}
      <ImportBox state={state} close={close} setState={setState} send={send} />
    </ImportContext>
  );
}

function ImportBox(props: {
  state: State;
  close: () => void;
  setState: (next: State) => void;
  send: (files: Chosen[], turning?: boolean) => Promise<void>;
}) {
  const { state, close, setState, send } = props;
  return (
    <DialogBox width="w-[760px]" open={state.step !== "idle"} onClose={close} testId="import-report">
      {state.step === "mapping" && (
        <Mappings
          files={state.files}
          onMapped={(files) =>
            unread(files).length > 0 ? setState({ step: "mapping", files }) : void send(files)
          }
          onStop={close}
        />
      )}
      {state.step === "sending" && (
        <>
          <DialogTitle className="text-box">Importing {state.file}</DialogTitle>
          <progress className="mt-3 w-full" value={state.share} max={1} aria-label="Sent" />
          <p className="text-muted">
            {state.share < 1 ? `${Math.round(state.share * 100)} % sent` : "Sent; taking it in."} Nothing
            counts until all of it is in.
          </p>
          <button className="outline-button mt-4" onClick={close}>
            Stop
          </button>
        </>
      )}
      {state.step === "done" &&
        state.results.map((r) =>
          "report" in r ? (
            <Report
              key={r.file}
              report={r.report}
              onAgain={(text, turning) =>
                void send(
                  [
                    {
                      file: new File([text], r.report.file),
                      ...(r.mapping ? { mapping: r.mapping } : {}),
                    },
                  ],
                  turning,
                )
              }
              onClose={close}
            />
          ) : (
            <div key={r.file}>
              <DialogTitle className="text-box">
                Not imported{state.results.length > 1 && `: ${r.file}`}
              </DialogTitle>
              <ProblemNote error={r.error} />
              <button className="outline-button" onClick={close}>
                Close
              </button>
            </div>
          ),
        )}
    </DialogBox>
  );
}

/** Several tables side by side, each with a mapping of its own: one after the other is said how it is to be read, then all are taken. */
function Mappings(props: { files: Chosen[]; onMapped: (files: Chosen[]) => void; onStop: () => void }) {
  const { files, onMapped, onStop } = props;
  const left = unread(files);
  const now = left[0];
  if (!now?.sample) return null;
  const tables = files.filter((f) => f.sample).length;
  return (
    <>
      {tables > 1 && (
        <ol className="mb-2 flex flex-wrap gap-x-4 text-muted" aria-label="Tables">
          {files
            .filter((f) => f.sample)
            .map((f) => (
              <li key={f.file.name} className={f === now ? "font-semibold text-ink" : ""}>
                {f.file.name}
                {f.mapping ? ", read" : ""}
              </li>
            ))}
        </ol>
      )}
      <MapTable
        key={now.file.name}
        name={now.file.name}
        sample={now.sample}
        take={left.length > 1 ? "Go on" : files.length > 1 ? `Take all ${files.length} in` : "Take it in"}
        onTake={(mapping) => onMapped(files.map((f) => (f === now ? { ...f, mapping } : f)))}
        onStop={onStop}
      />
    </>
  );
}
