import { useState } from "react";
import { Link } from "react-router";
import { STEPS, useComingWeeks, usePurge, type PurgeView } from "./api";
import { count, date, size, viewerZone } from "../../time/words";
import { Choice } from "../../ui/Choice";
import { ProblemNote } from "../../ui/ProblemNote";
import { useAsked } from "../../ui/useAsked";
import { AskPanel } from "./AskPanel";
import { Lines } from "./Lines";
import { Lists } from "./Lists";
import { Overview } from "./Overview";

/** Freeing room: what no rule needs, why, what proves it harmless, and asking for it to be deleted. Acts on now. */
export function PurgePage() {
  const [params, { ask }] = useAsked();
  const store = params.get("store");
  const [left, setLeft] = useState<{ store: string | null; keys: string[] }>({ store, keys: [] });
  const [wanted, setWanted] = useState<{ store: string | null; most: number | null }>({ store, most: null });
  const keys = left.store === store ? left.keys : NONE;
  const most = wanted.store === store ? wanted.most : null;
  const { data, error, isFetching } = usePurge(store, keys, most);
  const leave = (change: (keys: Set<string>) => void) => {
    const next = new Set(keys);
    change(next);
    setLeft({ store, keys: [...next].sort() });
  };
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return <main className="px-5 py-4 text-muted">Working out what may go…</main>;
  const shown = data.stores.find((s) => s.id === data.store);
  return (
    <main className="px-5 py-3" aria-busy={isFetching}>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-page leading-tight">Purge</h1>
        <Choice
          label="in"
          value={data.store ?? "all"}
          options={[
            ...data.stores.map((s): [string, string] => [
              s.id,
              `${s.name}, ${s.role} (${s.obsoleteBytes > 0 ? size(s.obsoleteBytes) : "nothing"} obsolete)`,
            ]),
            ["all", "the whole fleet"],
          ]}
          onChange={(v) => ask("store", v)}
        />
        <span className="text-muted">{tally(data)}</span>
        <span className="ml-auto text-lead">{freed(data)}</span>
      </div>
      <Others data={data} onMore={(many) => setWanted({ store, most: many })} />
      {error && <ProblemNote error={error} />}
      <Overview rows={data.rows} asOf={data.asOf} many={data.store === null} />
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_372px] items-start gap-x-5 max-[1000px]:grid-cols-1">
        <Lines data={data} leave={leave} />
        <aside>
          <AskPanel
            data={data}
            keys={keys.filter((k) => data.lines.some((l) => l.key === k))}
            busy={isFetching}
            agent={shown?.agent ?? null}
            leave={leave}
          />
          <Coming store={data.store ?? "all"} />
          <p className="mt-2">
            <Link className="text-button" to="/purge/standing">
              Standing purges
            </Link>{" "}
            <span className="text-note text-muted">let what is obsolete go by itself at night.</span>
          </p>
          <Lists lists={data.lists} />
        </aside>
      </div>
    </main>
  );
}

const NONE: string[] = [];

/** How much of the fleet is looked at, where it is not all of it. */
function Others({ data, onMore }: { data: PurgeView; onMore: (many: number) => void }) {
  if (data.others === 0) return null;
  const looked = data.databases.length;
  const next = STEPS.find((many) => many > looked);
  return (
    <p className="mt-1 text-muted" data-testid="purge-others">
      Of the {count(looked)} databases with the most that is obsolete.{" "}
      {data.others === 1 ? "One more has" : `${count(data.others)} more have`}{" "}
      {data.otherBytes > 0 ? size(data.otherBytes) : "nothing"} obsolete
      {next === undefined && `; a list takes at most ${looked} databases, so ask for these first.`}
      {next !== undefined && (
        <>
          .{" "}
          <button className="text-button" onClick={() => onMore(next)}>
            Take in {count(Math.min(data.others, next - looked))} more
          </button>
        </>
      )}
    </p>
  );
}

/** Of what there is how much, in words. */
function tally(data: PurgeView): string {
  const free = data.lines.filter((l) => l.kept === null);
  if (free.length === 0) return "every copy here is needed by a rule";
  const kinds: [string, string, string][] = [
    ["full", "full", "fulls"],
    ["diff", "differential", "differentials"],
    ["incr", "incremental", "incrementals"],
    ["log", "log", "logs"],
    ["config", "config backup", "config backups"],
  ];
  const parts = kinds.flatMap(([kind, one, many]) => {
    const n = free.filter((l) => l.kind === kind).reduce((sum, l) => sum + l.count, 0);
    return n === 0 ? [] : [n === 1 ? `one ${one}` : `${count(n)} ${many}`];
  });
  return `${parts.join(", ")} that no rule needs`;
}

function freed(data: PurgeView) {
  if (data.copies === 0) return null;
  const level = data.levels.length === 1 ? data.levels[0] : undefined;
  const share = (bytes: number, capacity: number) => `${Math.round((100 * bytes) / capacity)} %`;
  return (
    <>
      frees <b>{size(data.bytes)}</b>
      {level?.capacity && (
        <>
          , store from {share(level.before, level.capacity)} to <b>{share(level.after, level.capacity)}</b>
        </>
      )}
    </>
  );
}

/** What becomes obsolete in the weeks to come. */
function Coming({ store }: { store: string }) {
  const { data } = useComingWeeks(store);
  const most = Math.max(1, ...(data ?? []).map((w) => w.bytes));
  return (
    <section aria-label="Weeks to come" className="mt-5">
      <h2 className="text-section">In the weeks to come</h2>
      {!data && <p className="text-muted">Looking ahead…</p>}
      {data?.map((w) => (
        <div key={w.from} className="flex items-center gap-2 text-small">
          <span className="w-24 text-muted">to {date(w.to, viewerZone)}</span>
          <span
            className="h-2 border border-hatch bg-sand"
            style={{ width: Math.round((150 * w.bytes) / most) }}
          />
          <span>{w.bytes > 0 ? size(w.bytes) : "nothing"}</span>
        </div>
      ))}
      <p className="mt-1 text-note text-muted">becomes obsolete, if every slot is kept and goes as usual.</p>
    </section>
  );
}
