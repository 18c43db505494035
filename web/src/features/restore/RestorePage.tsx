import type { Schemas } from "../../api/types";
import { useEffect } from "react";
import { useSearchParams } from "react-router";
import { useDatabase } from "../database/api";
import { DatabaseChoice } from "../fleet/DatabaseChoice";
import { usePlan, type RestorePlan } from "./api";
import { RibbonPatterns } from "../../ribbon/Ribbon";
import { useView } from "../../time/view";
import { longMoment } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { Left } from "./Left";
import { NeedsIt } from "./NeedsIt";
import { Others } from "./Others";
import { Pointing } from "./Pointing";
import { Restores } from "./Restores";
import { Staircase } from "./Staircase";
import { Views } from "./Views";
import { wantedOf } from "./wanted";
import { WhereTo } from "./WhereTo";

/** The bad day: a database, a moment, and the way there from what is really left. */
export function RestorePage() {
  const [params, setParams] = useSearchParams();
  const database = params.get("database") ?? "";
  const wanted = wantedOf(params);
  const plan = usePlan(database, wanted);
  useEffect(() => {
    document.title = `${database ? `Restore ${database}` : "Restore"} · Firth`;
  }, [database]);
  const choose = (id: string) => {
    const kept = new URLSearchParams();
    for (const name of ["asOf", "period"]) {
      const value = params.get(name);
      if (value) kept.set(name, value);
    }
    if (id) kept.set("database", id);
    setParams(kept);
  };
  return (
    <div className="grid min-h-[calc(100vh-116px)] grid-cols-[minmax(0,1fr)_360px] max-[1000px]:grid-cols-1">
      <RibbonPatterns />
      <main className="px-5 pt-3 pb-10" aria-busy={plan.isFetching}>
        <Views />
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-page leading-tight">Restore {plan.data?.name ?? database}</h1>
          <span className="text-muted">to a moment, from what is really left</span>
          <span className="ml-auto">
            <DatabaseChoice label="Database" value={database} name={plan.data?.name} onChange={choose} />
          </span>
        </div>
        {plan.error && <ProblemNote error={plan.error} />}
        {database === "" && (
          <>
            <p className="mt-4 max-w-[560px] text-muted">
              Choose the database to bring back. Then point at the moment on its ribbon, or type it; the way
              there appears at once, and again whenever something turns out not to be left.
            </p>
            <NeedsIt onChoose={choose} />
          </>
        )}
        {plan.data && <Way plan={plan.data} />}
        <Restores />
      </main>
      {plan.data && (
        <aside className="border-l border-line bg-panel px-5 pt-3 pb-6 max-[1000px]:border-t max-[1000px]:border-l-0">
          <Left plan={plan.data} wanted={wanted} />
          {plan.data.ways.length > 0 && (
            <WhereTo key={plan.data.destination.name} plan={plan.data} wanted={wanted} />
          )}
        </aside>
      )}
    </div>
  );
}

function Way({ plan }: { plan: RestorePlan }) {
  const view = useView();
  const data = useDatabase(plan.database, view.params);
  const best = plan.ways[0];
  return (
    <>
      <Pointing plan={plan} data={data.data} />
      {best ? <Staircase plan={plan} way={best} /> : <Impossible plan={plan} />}
      {plan.lastCommit && (
        <p className="mt-2 text-muted" data-testid="last-commit">
          All of the logs are applied, with no moment to stop at: the last change in them is of{" "}
          {longMoment(plan.lastCommit, plan.zone)}.
        </p>
      )}
      {plan.ways.length > 1 && <Others plan={plan} />}
    </>
  );
}

const CAUSES: Record<Schemas["PlanHole"]["cause"], string> = {
  purged: "its logs were deleted",
  spoiled: "a log is spoiled",
  failed: "log backups failed",
  "never-backed-up": "its logs were never backed up",
};

/** Where the moment cannot be restored: the gap it lies in and what is nearest. */
function Impossible({ plan }: { plan: RestorePlan }) {
  const [, setParams] = useSearchParams();
  const go = (moment: string) =>
    setParams((before) => {
      const next = new URLSearchParams(before);
      next.set("moment", moment);
      return next;
    });
  const zone = plan.zone;
  const asked = plan.target ? longMoment(plan.target, zone) : "What is asked for";
  return (
    <section
      aria-label="Not restorable"
      className="mt-4 border-l-[3px] border-coral pl-3"
      data-testid="impossible"
    >
      <p className="text-lead font-semibold">
        {plan.target || plan.positions.length > 0
          ? `${asked} cannot be restored from what is left`
          : "Nothing of it can be restored from what is left"}
      </p>
      {plan.hole && (
        <p>
          It lies in a gap
          {plan.hole.after ? ` from ${longMoment(plan.hole.after, zone)}` : ""}
          {plan.hole.before ? ` to ${longMoment(plan.hole.before, zone)}` : ""}: {CAUSES[plan.hole.cause]}.
        </p>
      )}
      <p className="mt-1 flex flex-wrap gap-x-4">
        {plan.before && plan.before !== plan.target && (
          <button className="text-button" onClick={() => go(plan.before as string)}>
            Nearest before: {longMoment(plan.before, zone)}
          </button>
        )}
        {plan.after && plan.after !== plan.target && (
          <button className="text-button" onClick={() => go(plan.after as string)}>
            Nearest after: {longMoment(plan.after, zone)}
          </button>
        )}
      </p>
    </section>
  );
}
