import { useState } from "react";
import type { Ahead, StoreAhead } from "../../api/types";
import { day, size, viewerZone } from "../../time/words";
import { useWidth } from "../../ui/useWidth";

const HEIGHT = 120;

/** The room a store will hold day by day, under the rules in force and under those being written. */
export function RoomChart({ ahead, names }: { ahead: Ahead; names: [string | null, string] }) {
  const [box, width] = useWidth<HTMLDivElement>();
  const [chosen, setChosen] = useState<string | null>(null);
  const store = ahead.stores.find((s) => s.store === chosen) ?? ahead.stores[0];
  return (
    <div ref={box} className="mt-3">
      {store && (
        <>
          <div className="flex flex-wrap items-baseline gap-x-3 text-note">
            <span className="text-muted">Room used in</span>
            {ahead.stores.map((s) => (
              <button
                key={s.store}
                aria-pressed={s === store}
                className={s === store ? "font-semibold" : "text-link"}
                onClick={() => setChosen(s.store)}
              >
                {s.name}
              </button>
            ))}
          </div>
          {width > 8 && (
            <Lines store={store} width={width} from={ahead.from} days={ahead.days} names={names} />
          )}
          {ahead.unchanging > 0 && (
            <p className="text-note text-muted">
              {ahead.unchanging} databases are still to be looked at; until then they are taken to hold what
              they hold now.
            </p>
          )}
        </>
      )}
    </div>
  );
}

function Lines(props: {
  store: StoreAhead;
  width: number;
  from: string;
  days: number;
  names: [string | null, string];
}) {
  const { store, width, from, days, names } = props;
  const values = [...(store.before ?? []), ...store.after];
  const shown = store.capacityBytes !== null && Math.max(...values) > store.capacityBytes * 0.6;
  const top = Math.max(...values, shown ? (store.capacityBytes ?? 0) : 0) * 1.1 || 1;
  const x = (d: number) => 4 + (d / days) * (width - 8);
  const y = (bytes: number) => HEIGHT - 4 - (bytes / top) * (HEIGHT - 12);
  const path = (row: number[]) =>
    row.map((v, d) => `${d === 0 ? "M" : "L"}${x(d).toFixed(1)} ${y(v).toFixed(1)}`).join("");
  const end = new Date(new Date(from).getTime() + days * 86400_000);
  const same =
    names[0] === null ||
    store.before === null ||
    JSON.stringify(store.before) === JSON.stringify(store.after);
  return (
    <>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        data-testid="room"
        aria-label={`${store.name}: ${size(store.after[0] ?? 0)} now, ${size(
          store.after[days] ?? 0,
        )} in ${days} days under ${names[1]}`}
      >
        {shown && store.capacityBytes !== null && (
          <>
            <line
              x1={4}
              x2={width - 4}
              y1={y(store.capacityBytes)}
              y2={y(store.capacityBytes)}
              stroke="var(--coral)"
              strokeDasharray="4 3"
            />
            <text x={8} y={y(store.capacityBytes) - 4} fontSize={11} fill="var(--coral-text)">
              {store.name} is full, {size(store.capacityBytes)}
            </text>
          </>
        )}
        {store.before && !same && (
          <path d={path(store.before)} fill="none" stroke="var(--hatch)" strokeWidth={1.6} />
        )}
        <path d={path(store.after)} fill="none" stroke="var(--water-3)" strokeWidth={2} />
        <text
          x={width - 6}
          y={y(store.after[days] ?? 0) + 14}
          fontSize={11}
          textAnchor="end"
          fill="var(--water-3)"
        >
          {same && names[0] ? "both alike" : names[1]}
        </text>
        {store.before && !same && (
          <text
            x={width - 6}
            y={y(store.before[days] ?? 0) - 5}
            fontSize={11}
            textAnchor="end"
            fill="var(--ochre-text)"
          >
            {names[0]}
          </text>
        )}
      </svg>
      <div className="flex justify-between text-note text-muted">
        <span>today, {size(store.after[0] ?? 0)} used</span>
        <span>obsolete copies purged each day</span>
        <span>{day(end, viewerZone)}</span>
      </div>
    </>
  );
}
