import type { DatabaseView } from "../../api/client";
import { size } from "../../time/words";
import { useAskWhy } from "../../why/context";
import {
  ageOf,
  lyingText,
  oldest,
  shelfScale,
  shelfText,
  shelfTicks,
  type Lying,
  type ShelfView,
} from "./shelf";

const ROW = 44;
const MIDDLE = 22;

/** The shelf: what lies in each store by age, which of it a rule needs, and what no rule needs. */
export function Shelves({ data, width, labels }: { data: DatabaseView; width: number; labels: number }) {
  const longest = oldest(data.shelves, data.asOf);
  const right = 70;
  const room = width - right;
  const ticks = shelfTicks(longest, room);
  return (
    <section aria-label="The shelf" data-testid="shelf">
      <h2 className="mt-4 text-[18px]">The shelf</h2>
      {data.shelves.length === 0 ? (
        <p className="text-muted">No copy lies in any store.</p>
      ) : (
        <>
          {data.shelves.map((s) => (
            <Shelf
              key={s.store}
              shelf={s}
              data={data}
              longest={longest}
              width={room}
              labels={labels}
              right={right}
            />
          ))}
          <svg width={labels + width} height={18} aria-hidden className="block">
            <text x={labels} y={12} fontSize={11} fill="var(--muted)">
              now
            </text>
            {ticks.map((t) => (
              <text key={t.age} x={labels + t.x} y={12} fontSize={11} textAnchor="middle" fill="var(--muted)">
                {t.text}
              </text>
            ))}
          </svg>
          <p className="text-[12px] text-muted">
            By age, newest left. Filled: a rule needs it; hollow: none does. A band is logs. Violet: a lock, a
            hold (square) or the promised reach (dashed). A foot under a full: a rung.
          </p>
        </>
      )}
    </section>
  );
}

function Shelf({
  shelf,
  data,
  longest,
  width,
  labels,
  right,
}: {
  shelf: ShelfView;
  data: DatabaseView;
  longest: number;
  width: number;
  labels: number;
  right: number;
}) {
  const x = (at: string) => labels + shelfScale(longest, width)(ageOf(at, data.asOf));
  const reach = shelf.reachSeconds !== null ? labels + shelfScale(longest, width)(shelf.reachSeconds) : null;
  return (
    <svg
      width={labels + width + right}
      height={ROW}
      role="group"
      aria-label={shelfText(shelf, data.asOf)}
      className="block"
      data-store={shelf.store}
    >
      <text x={labels - 10} y={MIDDLE - 1} textAnchor="end" fontSize={12} fill="var(--ink)">
        {shelf.name}
      </text>
      <text x={labels - 10} y={MIDDLE + 12} textAnchor="end" fontSize={11} fill="var(--muted)">
        {shelf.role}
      </text>
      <line x1={labels} x2={labels + width} y1={MIDDLE} y2={MIDDLE} stroke="var(--line)" />
      {shelf.logs.map((l) => (
        <rect
          key={`${l.from}${l.verdict}`}
          x={x(l.to)}
          y={MIDDLE - 5}
          width={Math.max(1, x(l.from) - x(l.to))}
          height={10}
          fill={l.verdict === "needed" ? "var(--water-2)" : "var(--sand)"}
          stroke={l.verdict === "needed" ? "none" : "var(--hatch)"}
          strokeDasharray="3 2"
        >
          <title>{`${l.logs} logs, ${l.verdict}`}</title>
        </rect>
      ))}
      {reach !== null && (
        <line x1={reach} x2={reach} y1={1} y2={ROW - 6} stroke="var(--violet)" strokeDasharray="4 3" />
      )}
      {shelf.backups.map((b) => (
        <Standing key={b.id} backup={b} store={shelf.store} data={data} x={x(b.at)} />
      ))}
      <text x={labels + width + right} y={MIDDLE + 4} textAnchor="end" fontSize={12} fill="var(--muted)">
        {shelf.obsoleteBytes > 0 ? size(shelf.obsoleteBytes) : "nothing"}
        <title>bytes that no rule needs</title>
      </text>
    </svg>
  );
}

/** A backup as it stands on the shelf; asks why. */
function Standing({
  backup,
  store,
  data,
  x,
}: {
  backup: Lying;
  store: string;
  data: DatabaseView;
  x: number;
}) {
  const ask = useAskWhy();
  const subject = { database: data.row.id, about: "copy", backup: backup.id, store } as const;
  const full = backup.kind === "full";
  const height = full ? 24 : backup.kind === "config" ? 6 : backup.kind === "diff" ? 15 : 11;
  const needed = backup.verdict === "needed";
  const colour = backup.lockedUntil ? "var(--violet)" : "var(--ink)";
  const open = () => ask(subject, data.row.zone);
  return (
    <g
      role="button"
      tabIndex={full ? 0 : -1}
      className="cursor-pointer"
      aria-label={`${lyingText(backup, data.asOf)}. Why?`}
      data-why={JSON.stringify({ subject, zone: data.row.zone })}
      data-verdict={backup.verdict}
      onClick={open}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          open();
        }
      }}
    >
      <rect
        x={x - (full ? 2.5 : 1.5)}
        y={MIDDLE - height / 2}
        width={full ? 5 : 3}
        height={height}
        rx={full ? 2.5 : 1.5}
        fill={needed ? colour : "var(--panel)"}
        stroke={colour}
        strokeWidth={needed ? 0 : 1.3}
        strokeDasharray={backup.verdict === "unusable" ? "2 2" : undefined}
      />
      {backup.rungs.length > 0 && <rect x={x - 4} y={MIDDLE + 14} width={8} height={2.5} fill={colour} />}
      {backup.held && (
        <rect
          x={x - 3}
          y={MIDDLE - 18}
          width={6}
          height={6}
          fill="none"
          stroke="var(--violet)"
          strokeWidth={1.6}
        />
      )}
      <title>{lyingText(backup, data.asOf)}</title>
    </g>
  );
}
