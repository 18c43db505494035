import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import {
  beginRehearsal,
  NOTHING_LOST,
  stopRehearsal,
  useLosable,
  useRehearsal,
  useRehearsals,
  type Rehearsal,
} from "./api";
import { useMay } from "../../api/session";
import { count, duration, longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { Choice } from "../../ui/Choice";
import { ProblemNote } from "../../ui/ProblemNote";
import { useAsked } from "../../ui/useAsked";
import { Compared } from "../restore/Compared";
import { LosingForm } from "./LosingForm";
import { Rows } from "./RehearsedRows";
import { Views } from "../restore/Views";

/** The fleet as if chosen things were gone: what could be restored, how old, how long, in which order. */
export function RehearsalPage() {
  const [params, { ask }] = useAsked();
  const queries = useQueryClient();
  const all = useRehearsals();
  const id = params.get("rehearsal") ?? all.data?.[0]?.id ?? null;
  const one = useRehearsal(id);
  const other = useRehearsal(params.get("beside"));
  useEffect(() => {
    document.title = "Loss rehearsal · Firth";
  }, []);
  const over = one.data?.result !== null;
  useEffect(() => {
    if (over) void queries.invalidateQueries({ queryKey: ["rehearsals", "all"] });
  }, [over, queries]);
  const choices = (all.data ?? []).map((r): [string, string] => [
    r.id,
    `${r.title}, ${longMoment(r.at, viewerZone)}`,
  ]);
  return (
    <div className="grid min-h-[calc(100vh-46px)] grid-cols-[minmax(0,1fr)_360px] max-[1000px]:grid-cols-1">
      <main className="px-5 pt-3 pb-10">
        <Views />
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-page leading-tight">
            {one.data ? `Without ${one.data.losing.title}` : "Loss rehearsal"}
          </h1>
          {one.data && (
            <span className="text-muted">
              as of {longMoment(one.data.losing.moment ?? one.data.at, viewerZone)},{" "}
              {one.data.losing.sideBySide === 1
                ? "one restore at a time"
                : `${one.data.losing.sideBySide} restores side by side`}
            </span>
          )}
        </div>
        {(one.error ?? other.error) && <ProblemNote error={(one.error ?? other.error) as Error} />}
        {!id && <FirstOne onBegun={(begun) => ask("rehearsal", begun)} />}
        {choices.length > 1 && (
          <div className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
            <Choice
              label="Rehearsal"
              value={id ?? ""}
              options={choices}
              onChange={(v) => ask("rehearsal", v)}
            />
            <Choice
              label="beside"
              value={params.get("beside") ?? ""}
              options={[["", "none"], ...choices.filter(([v]) => v !== id)]}
              onChange={(v) => ask("beside", v)}
            />
          </div>
        )}
        {one.data && <Progress data={one.data} />}
        {one.data?.result && other.data?.result && <Compared one={one.data} other={other.data} />}
        {one.data?.result && (
          <>
            <Summary data={one.data} />
            <AtATime data={one.data} />
            <Rows key={one.data.id} id={one.data.id} result={one.data.result} />
          </>
        )}
      </main>
      <aside className="border-l border-line bg-panel px-5 pt-3 pb-6 max-[1000px]:border-t max-[1000px]:border-l-0">
        <LosingForm onBegun={(begun) => ask("rehearsal", begun)} />
      </aside>
    </div>
  );
}

function Progress({ data }: { data: Rehearsal }) {
  if (data.trouble) return <p className="mt-2 border-l-[3px] border-coral pl-3">{data.trouble}</p>;
  if (data.result) return null;
  return (
    <div className="mt-3">
      <div
        className="h-2.5 w-full border border-line bg-panel"
        role="progressbar"
        aria-label="Databases judged"
        aria-valuenow={data.judged}
        aria-valuemax={data.asked}
      >
        <div
          className="h-full bg-water-2"
          style={{ width: `${(100 * data.judged) / Math.max(1, data.asked)}%` }}
        />
      </div>
      <p className="mt-1">
        {count(data.judged)} of {count(data.asked)} databases judged.{" "}
        <button className="text-button" onClick={() => void stopRehearsal(data.id)}>
          Stop
        </button>
      </p>
    </div>
  );
}

function Summary({ data }: { data: Rehearsal }) {
  const r = data.result;
  if (!r) return null;
  const back = r.restored - r.unreachable;
  return (
    <p className="mt-2 text-lead" data-testid="rehearsal-summary">
      {r.down > 0
        ? `${count(r.down)} of ${count(r.databases)} databases are down. `
        : "No database itself is down; were all to be restored: "}
      <b>{count(back)}</b> can be restored
      {back > 0 && (
        <>
          , all back after <b>{duration(r.seconds)}</b>
        </>
      )}
      {r.untimed > 0 && ` (how long ${count(r.untimed)} take is not known)`}
      {r.promised > 0 && (
        <>
          , <b className={r.kept < r.promised ? "text-coral-text" : ""}>{count(r.kept)}</b> of{" "}
          {count(r.promised)} promised restore times kept
        </>
      )}
      {r.worstAge !== null && `; at most ${duration(r.worstAge)} of changes are lost`}.{" "}
      {r.unreachable > 0 && (
        <b className="text-coral-text">
          {r.unreachable === 1 ? "One cannot be restored." : `${count(r.unreachable)} cannot be restored.`}
        </b>
      )}
    </p>
  );
}

/** What fewer or more at a time would come to, where that differs, and that some are held back. */
function AtATime({ data }: { data: Rehearsal }) {
  const r = data.result;
  if (!r || r.atATime.length < 2) return null;
  const held = r.heldBack;
  return (
    <p className="mt-1 text-muted" data-testid="at-a-time">
      At a time:{" "}
      {r.atATime
        .map((n) =>
          r.promised > 0
            ? `${n.most} keeps ${count(n.kept)} of ${count(r.promised)} in ${duration(n.seconds)}`
            : `${n.most} takes ${duration(n.seconds)}`,
        )
        .join(", ")}
      .
      {held > 0 &&
        ` ${held === 1 ? "One restore is" : `${count(held)} restores are`} held back though there would be room, so that others are not slowed down.`}
    </p>
  );
}

/** Where none was ever made: the sites, the one on which most depends first. */
function FirstOne({ onBegun }: { onBegun: (id: string) => void }) {
  const { data } = useLosable();
  const may = useMay("operator");
  const { run, pending, problem } = useCommand();
  const sites = [...(data?.sites ?? [])].sort((a, b) => b.databases - a.databases);
  const most = Math.max(1, sites[0]?.databases ?? 0);
  return (
    <>
      <p className="mt-3 max-w-[560px] text-muted">
        Choose what is lost: sites, stores, hosts, everything no lock keeps. Firth works out what every
        database could be restored to, and in which order to keep the promised restore times.
      </p>
      {problem && <ProblemNote error={problem} />}
      <ul className="mt-4 max-w-[720px]" aria-label="Sites, by what depends on them">
        {sites.map((s, at) => (
          <li key={s.id} className="flex items-center gap-3 border-t border-line py-2">
            <span className="w-[130px] font-semibold">{s.name}</span>
            <span className="h-3 flex-1 bg-panel">
              <span className="block h-3 bg-water-2" style={{ width: `${(100 * s.databases) / most}%` }} />
            </span>
            <span className="w-[110px] text-muted">
              {count(s.databases)} {s.databases === 1 ? "database" : "databases"}
            </span>
            {may && (
              <button
                className={at === 0 ? "ink-button" : "outline-button"}
                disabled={pending}
                onClick={() =>
                  void run(
                    () => beginRehearsal({ ...NOTHING_LOST, sites: [s.id] }),
                    (begun) => onBegun(begun.id),
                  )
                }
              >
                Rehearse its loss
              </button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
