import { useEffect } from "react";
import { useFirst, useMore } from "../../api/stretch";
import type { Schemas } from "../../api/types";
import { useMay } from "../../api/session";
import { count, longMoment, viewerZone } from "../../time/words";
import { Held } from "../../ui/Held";
import { MoreButton } from "../../ui/MoreButton";
import { ProblemNote } from "../../ui/ProblemNote";
import { useAsked } from "../../ui/useAsked";
import { useCommand } from "../../ui/useCommand";
import { WordsField } from "../../ui/WordsField";
import { Views } from "../restore/Views";
import { sheetsOf, writeSheets } from "../sending/api";

type Sheet = Schemas["SheetRow"];

/** The pages for the day on which everything else is gone: to be printed, and laid beside the backups. */
export function SheetsPage() {
  const [params, { ask }] = useAsked();
  const words = params.get("words") ?? "";
  const asked = sheetsOf(words);
  const { data, error, isPlaceholderData } = useFirst(asked);
  const may = useMay("operator");
  const { run, pending, problem } = useCommand(["sheets"]);
  useEffect(() => {
    document.title = "Recovery sheets · Firth";
  }, []);
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return <main className="h-96 animate-pulse px-5 py-6" aria-busy />;
  return (
    <main className="px-5 pt-3 pb-10" aria-busy={pending}>
      <Views />
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-page leading-tight">Recovery sheets</h1>
        <p className="text-muted">
          For the day on which everything, Firth too, is gone. Written to <code>{data.directory}</code> and,
          through the stores&apos; agents, beside the backups, within a minute of every change. Print them.
        </p>
        {may && (
          <button className="outline-button ml-auto" disabled={pending} onClick={() => void run(writeSheets)}>
            Write them now
          </button>
        )}
      </div>
      {problem && <ProblemNote error={problem} />}
      {data.trouble && <p className="mt-2 border-l-[3px] border-coral pl-3">{data.trouble}</p>}
      {data.sites.length === 0 && data.databases === 0 && words === "" && (
        <p className="mt-3">None is written yet; the first follow within a minute.</p>
      )}
      <section aria-label="Sites" className="mt-4">
        <h2 className="text-section">Sites</h2>
        <Sheets rows={data.sites} />
      </section>
      <section aria-label="Databases" className="mt-4">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h2 className="text-section">Databases</h2>
          <WordsField
            label="Words in the names of databases"
            initial={words}
            className="w-[220px] py-1"
            onChange={(w) => ask("words", w)}
          />
          <span className="text-muted" role="status">
            {data.databases === 1 ? "one sheet" : `${count(data.databases)} sheets`}
          </span>
        </div>
        <Held stale={isPlaceholderData}>
          <Databases key={words} asked={asked} data={data} />
        </Held>
      </section>
    </main>
  );
}

function Databases({ asked, data }: { asked: ReturnType<typeof sheetsOf>; data: Schemas["SheetsView"] }) {
  const { rows, left, more } = useMore(asked, data, data.databases);
  return (
    <>
      <Sheets rows={rows} />
      <MoreButton left={left} onMore={more} />
    </>
  );
}

function Sheets({ rows }: { rows: Sheet[] }) {
  return (
    <ul className="columns-2 gap-x-8 max-[1000px]:columns-1">
      {rows.map((s) => (
        <li key={s.name} className="flex gap-3 border-b border-line py-1">
          <a className="text-button" href={`/api/sheets/${s.name}.html`} target="_blank" rel="noreferrer">
            {s.of}
          </a>
          <a className="text-button" href={`/api/sheets/${s.name}.txt`} target="_blank" rel="noreferrer">
            text
          </a>
          <span className="ml-auto text-muted">as of {longMoment(s.at, viewerZone)}</span>
        </li>
      ))}
    </ul>
  );
}
