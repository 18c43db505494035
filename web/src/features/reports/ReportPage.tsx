import { useEffect } from "react";
import { Link } from "react-router";
import { useStrip } from "../../api/cover";
import { useChoices } from "../fleet/api";
import { DatabaseChoice } from "../fleet/DatabaseChoice";
import { usePolicies } from "../policies/api";
import { keepReport, keptPath, reportPath, type Asked } from "./api";
import { useMay } from "../../api/session";
import { useView } from "../../time/view";
import { viewerZone } from "../../time/words";
import { useCommand, type Command } from "../../ui/useCommand";
import { Choice } from "../../ui/Choice";
import { ProblemNote } from "../../ui/ProblemNote";
import { useAsked } from "../../ui/useAsked";
import { KeptReports } from "./KeptReports";
import { between, PERIODS, stretch } from "./periods";
import { DateField } from "../../ui/Typed";

/** Of each table so many rows are shown here; what is printed has all. */
const ON_SCREEN = 50;

const SCOPES: [by: string, text: string][] = [
  ["fleet", "the fleet"],
  ["policy", "a policy"],
  ["owner", "an owner"],
  ["label", "a label"],
  ["database", "a database"],
];

/** What was promised, achieved, missed, deleted, tested and accepted, as one page to be printed, mailed and kept. */
export function ReportPage() {
  const [params, { ask, forget }] = useAsked();
  const view = useView();
  const strip = useStrip(view.params);
  const may = useMay("operator");
  const { run, pending, problem } = useCommand(["reports"]);
  const by = params.get("by") ?? "fleet";
  const choices = useScopes(by);
  const of = by === "fleet" ? "" : (params.get("of") ?? choices[0]?.[0] ?? "");
  const period = params.get("over") ?? "last-month";
  const kept = params.get("kept");
  useEffect(() => {
    document.title = "Report · Firth";
  }, []);
  const now = strip.data?.asOf;
  if (!now) return <main className="h-96 animate-pulse px-5 py-6" aria-busy />;
  const own = between(params.get("from") ?? "", params.get("to") ?? "", viewerZone);
  const over = period === "own" ? own : stretch(period, now, viewerZone);
  const asked: Asked | null =
    over && (by === "fleet" || of) ? { by, of, ...over, ...(view.asOf ? { asOf: view.asOf } : {}) } : null;
  const shown = kept ? keptPath(kept, "html") : asked ? reportPath(asked, "html") : null;
  const path = (form: string) => (kept ? keptPath(kept, form) : asked ? reportPath(asked, form) : "");
  return (
    <main className="px-5 pt-3 pb-8">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5">
        <h1 className="text-page leading-tight">Report</h1>
        {!kept && (
          <ReportChoices
            by={by}
            forget={forget}
            ask={ask}
            of={of}
            choices={choices}
            period={period}
            params={params}
          />
        )}
        {kept && (
          <button className="text-button" onClick={() => forget(["kept"])}>
            Another report
          </button>
        )}
        <Link className="text-button" to="/sending">
          Who is sent what
        </Link>
        {shown && (
          <ReportActions
            shown={shown}
            path={path}
            may={may}
            asked={asked}
            kept={kept}
            pending={pending}
            run={run}
            ask={ask}
          />
        )}
      </div>
      {problem && <ProblemNote error={problem} />}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_300px] items-start gap-x-5 max-[1000px]:grid-cols-1">
        {shown ? (
          <iframe
            key={shown}
            title="The report"
            src={`${shown}${kept ? "?" : "&"}most=${ON_SCREEN}`}
            className="h-[calc(100vh-196px)] min-h-[520px] w-full border border-line bg-panel"
          />
        ) : (
          <p className="text-muted">Choose what it is about and the period.</p>
        )}
        <KeptReports onOpen={(id) => ask("kept", id)} />
      </div>
    </main>
  );
}

function ReportChoices(props: {
  by: string;
  forget: (names: readonly string[]) => void;
  ask: (name: string, value: string, otherwise?: string) => void;
  of: string;
  choices: [string, string][];
  period: string;
  params: URLSearchParams;
}) {
  const { by, forget, ask, of, choices, period, params } = props;
  return (
    <>
      <Choice
        label="of"
        value={by}
        options={SCOPES}
        onChange={(v) => {
          forget(["of"]);
          ask("by", v, "fleet");
        }}
      />
      {by === "database" && <DatabaseChoice label="which" value={of} onChange={(v) => ask("of", v)} />}
      {by !== "fleet" && by !== "database" && (
        <Choice label="which" labelled={false} value={of} options={choices} onChange={(v) => ask("of", v)} />
      )}
      <Choice label="for" value={period} options={PERIODS} onChange={(v) => ask("over", v, "last-month")} />
      {period === "own" && (
        <>
          <DateField label="from" value={params.get("from") ?? ""} onChange={(v) => ask("from", v)} />
          <DateField label="to" value={params.get("to") ?? ""} onChange={(v) => ask("to", v)} />
        </>
      )}
    </>
  );
}

function ReportActions(props: {
  shown: string;
  path: (form: string) => string;
  may: boolean;
  asked: Asked | null;
  kept: string | null;
  pending: boolean;
  run: Command["run"];
  ask: (name: string, value: string, otherwise?: string) => void;
}) {
  const { shown, path, may, asked, kept, pending, run, ask } = props;
  return (
    <span className="ml-auto flex flex-wrap items-center gap-3">
      <a className="ink-button" href={shown} target="_blank" rel="noreferrer">
        Print
      </a>
      <a className="text-button" href={path("csv")} download="report.csv">
        Table of values
      </a>
      <a className="text-button" href={path("json")} download="report.json">
        JSON
      </a>
      {may && asked && !kept && (
        <button
          className="outline-button"
          disabled={pending}
          onClick={() =>
            void run(
              () => keepReport(asked),
              (k) => ask("kept", k.id),
            )
          }
        >
          Keep it
        </button>
      )}
    </span>
  );
}

/** What there is of a scope; databases are found by typing. */
function useScopes(by: string): [string, string][] {
  const policies = usePolicies(by === "policy");
  const { data } = useChoices(by === "owner" || by === "label");
  switch (by) {
    case "policy":
      return (policies.data ?? []).map((p) => [p.id, p.name]);
    case "owner":
      return (data?.owners ?? []).map((o) => [o, o]);
    case "label":
      return (data?.labels ?? []).map((l) => [l, l.replace("=", ": ")]);
    default:
      return [];
  }
}
