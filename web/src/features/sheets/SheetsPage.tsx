import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useSheets, writeSheets } from "../sending/api";
import { useMay } from "../../api/session";
import { longMoment, viewerZone } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { Views } from "../restore/Views";

/** The pages for the day on which everything else is gone: to be printed, and laid beside the backups. */
export function SheetsPage() {
  const { data, error } = useSheets();
  const may = useMay("operator");
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    document.title = "Recovery sheets · Firth";
  }, []);
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return <main className="h-96 animate-pulse px-5 py-6" aria-busy />;
  const write = () => {
    setBusy(true);
    void writeSheets()
      .then((now) => queries.setQueryData(["sheets"], now))
      .finally(() => setBusy(false));
  };
  const group = (begins: string) => data.sheets.filter((s) => s.name.startsWith(begins));
  return (
    <main className="px-5 pt-3 pb-10" aria-busy={busy}>
      <Views />
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-page leading-tight">Recovery sheets</h1>
        <p className="text-muted">
          For the day on which everything, Firth too, is gone. Written to <code>{data.directory}</code> and,
          through the stores&apos; agents, beside the backups, within a minute of every change. Print them.
        </p>
        {may && (
          <button className="outline-button ml-auto" disabled={busy} onClick={write}>
            Write them now
          </button>
        )}
      </div>
      {data.trouble && <p className="mt-2 border-l-[3px] border-coral pl-3">{data.trouble}</p>}
      {data.sheets.length === 0 && (
        <p className="mt-3">None is written yet; the first follow within a minute.</p>
      )}
      {[
        ["site-", "Sites"],
        ["database-", "Databases"],
      ].map(([begins, text]) => (
        <section key={begins} aria-label={text} className="mt-4">
          <h2 className="text-section">{text}</h2>
          <ul className="columns-2 gap-x-8 max-[1000px]:columns-1">
            {group(begins as string).map((s) => (
              <li key={s.name} className="flex gap-3 border-b border-line py-1">
                <a
                  className="text-button"
                  href={`/api/sheets/${s.name}.html`}
                  target="_blank"
                  rel="noreferrer"
                >
                  {s.name.slice((begins as string).length)}
                </a>
                <a
                  className="text-button"
                  href={`/api/sheets/${s.name}.txt`}
                  target="_blank"
                  rel="noreferrer"
                >
                  text
                </a>
                <span className="ml-auto text-muted">as of {longMoment(s.at, viewerZone)}</span>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </main>
  );
}
