import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useFirst, useMore } from "../../api/stretch";
import type { Schemas } from "../../api/types";
import { type Needed, needsOf } from "./api";
import { useView } from "../../time/view";
import { count, duration, longMoment } from "../../time/words";
import { Gauge } from "../../ui/Gauge";
import { Held } from "../../ui/Held";
import { MoreButton } from "../../ui/MoreButton";
import { ProblemNote } from "../../ui/ProblemNote";
import { useAsked } from "../../ui/useAsked";
import { WordsField } from "../../ui/WordsField";
import { Choice } from "../../ui/Choice";
import { StartForm } from "../runners/StartForm";
import { kindName } from "../../ribbon/kinds";
import { KINDS, takes, until, WHY } from "./needs";

/** What still needs a backup, of which kind, by when, and what a restore would take today. */
export function NeedsPage() {
  const view = useView();
  const [params, { ask }] = useAsked();
  const [starting, setStarting] = useState<string | null>(null);
  useEffect(() => {
    document.title = "What needs a backup · Firth";
  }, []);
  const words = params.get("words") ?? "";
  const kind = params.get("kind") ?? "";
  const asked = needsOf(view.params.asOf, { words, kind });
  const needs = useFirst(asked);
  if (needs.error) return <ProblemNote error={needs.error} />;
  return (
    <main className="px-5 pt-3 pb-8">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-page">What needs a backup</h1>
        <p className="text-muted" role="status">
          {!needs.data
            ? "reading"
            : needs.data.found === 0
              ? "Nothing does, as far as is known."
              : `${count(needs.data.overdue)} overdue, ${count(needs.data.found - needs.data.overdue)} to come`}
        </p>
        <Link className="text-button ml-auto" to={`/watch${view.search}`}>
          Watch
        </Link>
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <WordsField
          label="Words in databases and components"
          initial={words}
          className="w-[220px] py-1"
          onChange={(w) => ask("words", w)}
        />
        <Choice label="kind" labelled={false} value={kind} options={KINDS} onChange={(v) => ask("kind", v)} />
      </div>
      {needs.data && needs.data.found > 0 && (
        <Held stale={needs.isPlaceholderData}>
          <Table
            key={words + "|" + kind}
            needs={needs.data}
            asked={asked}
            search={view.search}
            today={view.asOf === null}
            onStart={setStarting}
          />
        </Held>
      )}
      {starting && <StartForm database={starting} onClose={() => setStarting(null)} />}
    </main>
  );
}

function Table(props: {
  needs: Schemas["NeedsView"];
  asked: ReturnType<typeof needsOf>;
  search: string;
  today: boolean;
  onStart: (database: string) => void;
}) {
  const { needs, asked, search, today, onStart } = props;
  const { rows, left, more } = useMore(asked, needs, needs.found);
  return (
    <>
      <table className="mt-3 w-full border-collapse" aria-label="What needs a backup">
        <thead className="text-left text-note text-muted">
          <tr className="border-b border-line">
            <th className="py-1 pr-3 font-normal">database</th>
            <th className="pr-3 font-normal">needs</th>
            <th className="pr-3 font-normal">by</th>
            <th className="pr-3 font-normal">why</th>
            <th className="pr-3 font-normal">a restore takes today</th>
            <th>
              <span className="sr-only">Start</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <Row
              key={r.database + r.kind + (r.component ?? "")}
              need={r}
              asOf={needs.asOf}
              search={search}
              today={today}
              onStart={() => onStart(r.database)}
            />
          ))}
        </tbody>
      </table>
      <MoreButton left={left} onMore={more} />
    </>
  );
}

function Row(props: { need: Needed; asOf: string; search: string; today: boolean; onStart: () => void }) {
  const { need: r, asOf, search, today, onStart } = props;
  const over = r.by <= asOf;
  return (
    <tr className="border-b border-line" data-need={`${r.database} ${r.component ?? r.kind}`}>
      <td className="py-1.5 pr-3">
        <span className="mr-2 inline-block align-middle">
          <Gauge grade={r.grade} />
        </span>
        <Link
          className="underline decoration-dotted"
          to={`/databases/${encodeURIComponent(r.database)}${search}`}
        >
          {r.name}
        </Link>
        {r.component && <span className="text-muted"> · component {r.component}</span>}
      </td>
      <td className="pr-3">{kindName(r.kind)}</td>
      <td className={`pr-3 ${over ? "text-coral-text" : ""}`}>
        {over ? until(r.by, asOf) : `${longMoment(r.by, r.zone)} · ${until(r.by, asOf)}`}
      </td>
      <td className="pr-3 text-muted">{WHY[r.why]}</td>
      <td className="pr-3">
        {takes(r)}
        {r.restore?.seconds != null && <span className="text-muted"> · {duration(r.restore.seconds)}</span>}
      </td>
      <td className="text-right whitespace-nowrap">
        {today && r.kind !== "log" && (
          <button className="text-button" onClick={onStart}>
            Start
          </button>
        )}
      </td>
    </tr>
  );
}
