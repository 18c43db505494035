import type { DatabaseView } from "../../api/types";
import { scale } from "../../ribbon/geometry";
import { day, moment, size } from "../../time/words";
import { kindName } from "../../ribbon/kinds";

const LANE = 36;
const DEEP = 26;
const KINDS = ["full", "diff", "incr"];

/** How large each data backup was, and the room that lay in each store, over the period. */
export function RoomChart({ data, width, labels }: { data: DatabaseView; width: number; labels: number }) {
  const { moments, sizes } = data.room;
  const shelf = data.shelves.map((s) => s.store);
  const place = (store: string) => (shelf.includes(store) ? shelf.indexOf(store) : shelf.length);
  const stores = [...data.room.stores].sort((a, b) => place(a.store) - place(b.store));
  if (stores.length === 0 && sizes.length === 0) return null;
  const x = scale(data.from, data.to, width);
  const most = Math.max(1, ...stores.flatMap((s) => s.bytes));
  const largest = Math.max(1, ...sizes.map((s) => s.bytes));
  const zone = data.row.zone;
  return (
    <section aria-label="Size and room" data-testid="room">
      <h2 className="mt-4 text-section">Size and room</h2>
      {sizes.length > 0 && (
        <Lane
          label="each backup"
          labels={labels}
          text={sizesText(data)}
          under={size(lastOf(sizes))}
          width={width}
        >
          {sizes.map((s) => (
            <line
              key={s.id}
              x1={labels + x(s.at)}
              x2={labels + x(s.at)}
              y1={DEEP + 4}
              y2={DEEP + 4 - Math.max(2, (s.bytes / largest) * DEEP)}
              stroke={`var(--${s.kind === "full" ? "water-3" : "water-2"})`}
              strokeWidth={s.kind === "full" ? 4 : 2}
            >
              <title>{`${kindName(s.kind)} of ${moment(s.at, zone)}, ${size(s.bytes)}`}</title>
            </line>
          ))}
        </Lane>
      )}
      {stores.map((s) => (
        <Lane
          key={s.store}
          label={s.name}
          labels={labels}
          width={width}
          text={storeText(s.name, s.bytes)}
          under={size(s.bytes.at(-1) ?? 0)}
        >
          <path
            d={outline(moments, s.bytes, (at) => labels + x(at), most)}
            fill="var(--water-1)"
            stroke="var(--water-2)"
          >
            <title>{storeText(s.name, s.bytes)}</title>
          </path>
        </Lane>
      ))}
      <p className="text-note text-muted">
        Above: what each data backup wrote, fulls wide. Below: what lay in each store, all on one scale up to{" "}
        {size(most)}. The figures are the last. From {day(data.from, zone)}.
      </p>
    </section>
  );
}

function Lane(props: {
  label: string;
  labels: number;
  width: number;
  text: string;
  under: string;
  children: React.ReactNode;
}) {
  const { label, labels, width, text, under, children } = props;
  return (
    <div className="flex items-center">
      <svg width={labels + width} height={LANE} role="img" aria-label={text} className="block">
        <text x={labels - 12} y={14} fontSize={13} textAnchor="end" fill="var(--ink)">
          {label}
        </text>
        <text x={labels - 12} y={28} fontSize={11} textAnchor="end" fill="var(--muted)">
          {under}
        </text>
        <line x1={labels} x2={labels + width} y1={DEEP + 4.5} y2={DEEP + 4.5} stroke="var(--line)" />
        {children}
      </svg>
    </div>
  );
}

/** Room changes at once when something lands or goes: steps, no slopes. */
function outline(moments: string[], bytes: number[], x: (at: string) => number, most: number): string {
  const y = (b: number) => (DEEP + 4 - (b / most) * DEEP).toFixed(1);
  const steps = bytes.flatMap((b, i) => {
    const at = x(moments[i] ?? "").toFixed(1);
    return i === 0 ? [`${at},${y(b)}`] : [`${at},${y(bytes[i - 1] ?? 0)}`, `${at},${y(b)}`];
  });
  const first = x(moments[0] ?? "").toFixed(1);
  const last = x(moments.at(-1) ?? "").toFixed(1);
  return `M${first},${y(0)} L${steps.join(" L")} L${last},${y(0)} Z`;
}

function lastOf(sizes: { bytes: number }[]): number {
  return sizes.at(-1)?.bytes ?? 0;
}

function storeText(name: string, bytes: number[]): string {
  return `${name}: ${size(bytes.at(-1) ?? 0)} now, ${size(bytes[0] ?? 0)} where the period begins, at most ${size(Math.max(0, ...bytes))}`;
}

function sizesText(data: DatabaseView): string {
  const { sizes } = data.room;
  const of = (kind: string) => sizes.filter((s) => s.kind === kind);
  return KINDS.filter((kind) => of(kind).length > 0)
    .map((kind) => `${of(kind).length} of kind ${kindName(kind)}, the last ${size(lastOf(of(kind)))}`)
    .join("; ");
}
