import type { Schemas } from "../../api/types";
import { useState } from "react";
import { Link } from "react-router";
import { useMay } from "../../api/session";
import { useFirst, useMore } from "../../api/stretch";
import { MoreButton } from "../../ui/MoreButton";
import { storeOf, useBackTest, useStores, type StoreDetail, type StoreRow, type StoresView } from "./api";
import { date, duration, size, time, viewerZone } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { useAsked } from "../../ui/useAsked";
import { useWidth } from "../../ui/useWidth";
import { usePlaces } from "../places/api";
import { StoreForm } from "../places/StoreForm";
import { StockPanel } from "../stocktake/StockPanel";

const LABELS = 190;
const RIGHT = 124;
const DEEP = 84;

/** What the stores hold, held and will hold, and whether that is really there. */
export function StoresPage() {
  const [params, { ask }] = useAsked();
  const { data, error } = useStores();
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return <main className="px-5 py-4 text-muted">Adding up what lies in each store…</main>;
  const store = data.stores.find((s) => s.id === params.get("store")) ?? data.stores[0];
  return (
    <main className="px-5 py-3">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-page leading-tight">Stores</h1>
        <span className="text-muted">
          {data.days} days back, {data.days} ahead, run forward from schedules, usual sizes and retention
        </span>
      </div>
      <Curves data={data} chosen={store?.id} onChoose={(id) => ask("store", id)} />
      {data.stores.length === 0 && (
        <p className="mt-3 text-muted">
          No store is known yet.{" "}
          <Link className="text-button" to="/fleet/places">
            Add one under Places
          </Link>
          , or drop a fleet file anywhere.
        </p>
      )}
      {store && (
        <div className="mt-2 grid grid-cols-[minmax(0,1fr)_412px] items-start gap-x-5 max-[1000px]:grid-cols-1">
          <Databases store={store} />
          <aside className="space-y-4">
            <StockPanel store={store} />
            <Rule store={store} />
          </aside>
        </div>
      )}
    </main>
  );
}

/** What lay in each store and will lie there. */
function Curves(props: { data: StoresView; chosen: string | undefined; onChoose: (id: string) => void }) {
  const { data, chosen, onChoose } = props;
  const [box, width] = useWidth<HTMLDivElement>();
  return (
    <div ref={box} className="mt-2" data-testid="stores">
      {width > 0 &&
        data.stores.map((s) => (
          <Store
            key={s.id}
            store={s}
            data={data}
            width={width - LABELS - RIGHT}
            chosen={s.id === chosen}
            onChoose={() => onChoose(s.id)}
          />
        ))}
    </div>
  );
}

/** What becomes of a store, in a few words. */
function outlook(s: StoreRow): [text: string, bad: boolean] {
  if (s.full) return [`full on ${date(s.full, viewerZone)}`, true];
  const last = s.ahead[s.ahead.length - 1] ?? 0;
  return [`${size(last)} in ${s.ahead.length - 1} days`, false];
}

function Store(props: {
  store: StoreRow;
  data: StoresView;
  width: number;
  chosen: boolean;
  onChoose: () => void;
}) {
  const { store: s, data, width, chosen, onChoose } = props;
  const most = Math.max(1, s.capacity ?? 0, ...s.back, ...s.ahead) * (s.capacity ? 1.02 : 1.15);
  const days = data.days;
  const x = (day: number) => LABELS + ((day + days) / (2 * days)) * width;
  const y = (bytes: number) => DEEP - (bytes / most) * (DEEP - 4);
  const line = (values: number[], from: number) =>
    values.map((b, i) => `${i === 0 ? "M" : "L"}${x(i + from).toFixed(1)},${y(b).toFixed(1)}`).join("");
  const [text, bad] = outlook(s);
  const now = s.back[s.back.length - 1] ?? 0;
  // The names of the two lines stand where they end, and never over one another.
  const goes = Math.min(DEEP - 12, Math.max(12, y(s.ahead[days] ?? 0) + 4));
  const names = [goes, Math.max(goes + 12, Math.min(DEEP, y(s.purged[days] ?? 0) + 4))];
  const fullDay = s.full ? (Date.parse(s.full) - Date.parse(data.asOf)) / 86_400_000 : null;
  return (
    <button
      className={`block w-full rounded text-left ${chosen ? "bg-chosen" : ""}`}
      aria-pressed={chosen}
      aria-label={`${s.name}: ${size(now)} used${s.capacity ? ` of ${size(s.capacity)}` : ""}, ${text}`}
      onClick={onChoose}
      data-store={s.id}
    >
      <svg width={LABELS + width + RIGHT} height={DEEP + 10} className="block" aria-hidden>
        <text x={6} y={22} fontSize={15} fontWeight={600} fill="var(--ink)">
          {s.name}
        </text>
        <text x={6} y={40} fontSize={12} fill="var(--muted)">
          {[s.site, s.medium, s.capacity ? size(s.capacity) : "no limit known"].filter(Boolean).join(" · ")}
        </text>
        <text x={6} y={58} fontSize={13} fontWeight={600} fill={bad ? "var(--coral-text)" : "var(--ink)"}>
          {text}
        </text>
        <rect x={LABELS} y={4} width={width} height={DEEP - 4} fill="var(--panel)" stroke="var(--line)" />
        <path
          d={`${line(s.back, -days)}L${x(0)},${DEEP}L${x(-days)},${DEEP}Z`}
          fill="var(--water-1)"
          stroke="var(--water-2)"
        />
        {s.capacity && (
          <line
            x1={LABELS}
            x2={LABELS + width}
            y1={y(s.capacity)}
            y2={y(s.capacity)}
            stroke="var(--violet)"
          />
        )}
        <path
          d={line(s.ahead, 0)}
          fill="none"
          stroke="var(--water-3)"
          strokeWidth={2}
          strokeDasharray="4 3"
        />
        <path d={line(s.purged, 0)} fill="none" stroke="var(--violet)" strokeWidth={1.5} />
        <line x1={x(0)} x2={x(0)} y1={0} y2={DEEP + 4} stroke="var(--ink)" strokeWidth={2} />
        {fullDay !== null && fullDay <= days && (
          <circle cx={x(fullDay)} cy={y(s.capacity ?? 0)} r={4} fill="var(--coral)" />
        )}
        <text x={LABELS + width + 8} y={names[0]} fontSize={11} fill="var(--water-3)">
          unless purged
        </text>
        <text x={LABELS + width + 8} y={names[1]} fontSize={11} fill="var(--violet)">
          purged daily
        </text>
      </svg>
    </button>
  );
}

/** What the databases hold in a store against what their rules need there. */
function Table({ store, asked }: { store: StoreDetail; asked: ReturnType<typeof storeOf> }) {
  const { rows, left, more } = useMore(asked, store, store.databases);
  return (
    <>
      <table className="w-full text-left" data-testid="store-databases">
        <thead className="text-note text-muted">
          <tr>
            <th className="py-1 font-normal">{store.name}, by database</th>
            <th className="text-right font-normal">used</th>
            <th className="text-right font-normal">needed for its policy</th>
            <th className="text-right font-normal">growth a week</th>
            <th className="pl-4 font-normal">copies rule</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((d) => (
            <tr key={d.id} className="border-t border-line">
              <td className="py-1.5">
                <Link className="font-semibold" to={`/databases/${encodeURIComponent(d.id)}`}>
                  {d.name}
                </Link>
                <span className="block text-note text-muted">
                  {Object.entries(d.kinds)
                    .filter(([, bytes]) => bytes > 0)
                    .sort((a, b) => b[1] - a[1])
                    .map(([kind, bytes]) => `${kind} ${size(bytes)}`)
                    .join(", ")}
                </span>
              </td>
              <td className="text-right">{size(d.held)}</td>
              <td className="text-right">{size(d.needed)}</td>
              <td className="text-right">{d.week > 0 ? size(d.week) : "nothing"}</td>
              <td className={`pl-4 ${d.copiesHeld ? "text-muted" : "text-coral-text"}`}>
                {d.copies ?? "none asked"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <MoreButton left={left} onMore={more} />
      {store.databases === 0 && <p className="text-muted">Nothing lies here.</p>}
    </>
  );
}

function Databases({ store }: { store: StoreRow }) {
  const asked = storeOf(store.id);
  const { data } = useFirst(asked);
  const [testing, setTesting] = useState(false);
  const { data: test } = useBackTest(testing);
  const own = test?.stores.find((t) => t.store === store.id);
  return (
    <section aria-label="By database">
      {data && <Table key={store.id} store={data} asked={asked} />}
      <h2 className="mt-4 text-section">What brings it down</h2>
      {data?.reliefs.map((r) => (
        <p key={r.what}>
          {r.what}: <b>{size(r.bytes)}</b>
          {store.capacity !== null &&
            (r.full ? `, then full on ${date(r.full, viewerZone)}` : `, then not full within 60 days`)}
        </p>
      ))}
      <p className="mt-1">
        <Link className="text-button" to={`/purge?store=${store.id}`}>
          What may be purged here
        </Link>{" "}
        <a
          className="text-button ml-3"
          href={`/api/out/slots.ics?store=${encodeURIComponent(store.id)}`}
          download={`${store.id}-slots.ics`}
        >
          Its slots as a calendar
        </a>{" "}
        <button className="text-button ml-3" onClick={() => setTesting(true)} disabled={testing}>
          How good is the forecast?
        </button>
      </p>
      {testing && !own && (
        <p className="text-muted">{test ? "No forecast was possible then." : "Looking back…"}</p>
      )}
      {own && test && (
        <p role="status">
          Made on {date(test.made, viewerZone)}, with nothing known that came later, it would have said{" "}
          {size(own.forecast[test.days] ?? 0)} for now; {size(own.actual[test.days] ?? 0)} lie here
          {own.error !== null && (
            <>
              : off by <b>{(100 * own.error).toFixed(1)} %</b>
            </>
          )}
          .
        </p>
      )}
    </section>
  );
}

const WAYS: Record<Schemas["StoreRow"]["givesWay"], string> = {
  "refuse-new": "Nothing gives way: new backups are refused",
  "obsolete-first": "What no rule needs goes first, the oldest before the others",
  "copied-elsewhere-first": "What no rule needs goes first, then what lies in another store too",
};

const LOCKS: Record<string, string> = {
  none: "nothing keeps files from being deleted",
  until: "files may be locked until a moment",
  immutable: "it is immutable",
  "read-only": "it can only be read",
};

/** What its agent found when it looked at the store itself. */
function Measured({ store }: { store: StoreRow }) {
  const found = store.measured;
  if (!found) return null;
  const locks = LOCKS[found.locks];
  return (
    <p className="mt-2 text-small" data-testid="measured">
      Measured by its agent at {time(found.at, viewerZone)}: {size(found.freeBytes)} free of{" "}
      {size(found.capacityBytes)}
      {found.writable === true && ", can be written to"}
      {locks && `; ${locks}`}.
      {found.writable === false && (
        <b className="block text-coral-text">It could not write there: {found.trouble}</b>
      )}
    </p>
  );
}

/** What gives way when it is short, how fast it is, and how long copies stay. */
function Rule({ store }: { store: StoreRow }) {
  const [stating, setStating] = useState(false);
  const may = useMay("planner");
  const places = usePlaces();
  const place = places.data?.stores.find((s) => s.id === store.id);
  const rate = (r: { usual: number; best: number; backups: number } | null) =>
    r ? `${size(r.usual)}/s, at best ${size(r.best)}/s (${r.backups} fulls)` : "not seen";
  return (
    <section aria-label="When it is short" className="rounded-xl border border-line bg-panel p-4">
      <h2 className="text-section">When {store.name} is short</h2>
      <p className="mt-1">
        {WAYS[store.givesWay]}
        {store.way > 0 && `; ${size(store.way)} could now`}.
      </p>
      <p className="text-note text-muted">Never what is locked, held or of the newest way back.</p>
      {store.minimumStaySeconds !== null && (
        <p>Deleting a copy before it lay here {duration(store.minimumStaySeconds)} costs money.</p>
      )}
      <p className="mt-2 text-small">
        Read: {store.readStated ? `${size(store.readStated)}/s as stated` : "no rate stated"}
        {store.read &&
          `; in ${store.read.backups === 1 ? "a drill" : `${store.read.backups} drills`} at best ${size(store.read.best)}/s`}
        <br />
        Written: {rate(store.written)}
        <br />
        Copied here: {store.copied ? `at best ${size(store.copied.best)}/s` : "not seen"}
      </p>
      <Measured store={store} />
      {may && place && (
        <button className="text-button mt-2" onClick={() => setStating(true)}>
          Edit…
        </button>
      )}
      {stating && place && (
        <StoreForm store={place} sites={places.data?.sites ?? []} onClose={() => setStating(false)} />
      )}
    </section>
  );
}
