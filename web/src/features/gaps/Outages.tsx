import type { Schemas } from "../../api/types";
import { scale } from "../../ribbon/geometry";
import { count, day, span, viewerZone } from "../../time/words";
import { useWidth } from "../../ui/useWidth";

const LABEL = 150;
const HEIGHT = 22;

/** By store and slice of the period, in how many databases logs are missing: an outage stands as one column. */
export function Outages({ gaps }: { gaps: Schemas["Outages"] }) {
  const [box, whole] = useWidth<HTMLDivElement>();
  const width = Math.max(200, whole - LABEL - 8);
  const at = scale(gaps.from, gaps.to, width);
  const most = Math.max(1, ...gaps.stores.flatMap((s) => s.slices.map((c) => c.databases)));
  if (gaps.stores.length === 0) {
    return <p className="mt-2 text-muted">None of them lies within the period that the ruler shows.</p>;
  }
  const ticks = Array.from({ length: 7 }, (_, i) => {
    const from = Date.parse(gaps.from);
    return from + ((Date.parse(gaps.to) - from) * (i + 0.5)) / 7;
  });
  return (
    <figure ref={box} className="mt-3" aria-label="Missing logs by store and time">
      {gaps.stores.map((store) => (
        <div key={store.name} className="flex items-center" data-outage={store.name}>
          <span className="truncate pr-3 text-right" style={{ width: LABEL }} title={store.name}>
            {store.name}
          </span>
          <svg width={width} height={HEIGHT} role="img" aria-label={sentence(store)} className="block">
            <line x1={0} x2={width} y1={HEIGHT - 1} y2={HEIGHT - 1} stroke="var(--line)" />
            {store.slices.map((slice) => {
              const x = at(slice.from);
              const tall = Math.max(4, (slice.databases / most) * (HEIGHT - 4));
              return (
                <rect
                  key={slice.from}
                  x={x}
                  width={Math.max(2, at(slice.to) - x)}
                  y={HEIGHT - 1 - tall}
                  height={tall}
                  fill="var(--coral)"
                  opacity={0.45 + (0.55 * slice.databases) / most}
                >
                  <title>{`${span(slice.from, slice.to, viewerZone)} ${viewerZone}: ${who(slice)}`}</title>
                </rect>
              );
            })}
          </svg>
        </div>
      ))}
      {gaps.others > 0 && (
        <p className="text-note text-muted" style={{ marginLeft: LABEL }}>
          and {count(gaps.others)} {gaps.others === 1 ? "store" : "stores"} with fewer
        </p>
      )}
      <div className="relative h-4 text-fine text-muted" style={{ marginLeft: LABEL }} aria-hidden>
        {ticks.map((t) => (
          <span key={t} className="absolute -translate-x-1/2" style={{ left: at(new Date(t).toISOString()) }}>
            {day(t, viewerZone)}
          </span>
        ))}
      </div>
      <figcaption className="sr-only">
        {`Taller is more databases; the tallest stands for ${most}. Times in ${viewerZone}.`}
      </figcaption>
    </figure>
  );
}

type Slice = Schemas["OutageSlice"];

/** The databases of a slice: by name, and how many more. */
function who({ databases, names }: Slice): string {
  if (names.length === 0) return `${count(databases)} ${databases === 1 ? "database" : "databases"}`;
  const more = databases - names.length;
  return names.join(", ") + (more > 0 ? ` and ${count(more)} more` : "");
}

function sentence(store: Schemas["StoreOutage"]): string {
  const names = [...new Set(store.slices.flatMap((s) => s.names))];
  const most = Math.max(...store.slices.map((s) => s.databases));
  return names.length > 0
    ? `${store.name}: logs of ${names.join(", ")} are missing`
    : `${store.name}: logs of up to ${count(most)} databases at once are missing`;
}
