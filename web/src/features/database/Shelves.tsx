import type { DatabaseView } from "../../api/types";
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
  return (
    <section aria-label="The shelf" data-testid="shelf">
      <h2 className="mt-4 text-section">The shelf</h2>
      {data.shelves.length === 0 ? (
        <p className="text-muted">No store has a copy.</p>
      ) : (
        <>
          {data.shelves.map((s) => (
            <Shelf
              key={s.store}
              shelf={s}
              name={s.name}
              note={s.role}
              of={{ id: data.row.id, zone: data.row.zone, asOf: data.asOf }}
              longest={longest}
              width={room}
              labels={labels}
              right={right}
            />
          ))}
          <ShelfAxis longest={longest} width={room} labels={labels} />
          <p className="text-note text-muted">
            By age, newest left. Filled: a rule needs it; hollow: none does. A band is logs. Violet: a lock, a
            hold (square) or the promised reach (dashed). A foot under a full: a rung.
          </p>
        </>
      )}
    </section>
  );
}

/** The ages under shelves. */
export function ShelfAxis({ longest, width, labels }: { longest: number; width: number; labels: number }) {
  return (
    <svg width={labels + width} height={18} aria-hidden className="block">
      <text x={labels} y={12} fontSize={11} fill="var(--muted)">
        now
      </text>
      {shelfTicks(longest, width).map((t) => (
        <text key={t.age} x={labels + t.x} y={12} fontSize={11} textAnchor="middle" fill="var(--muted)">
          {t.text}
        </text>
      ))}
    </svg>
  );
}

/** Whose shelf it is, and when it is looked at. */
export type Owner = { id: string; zone: string; asOf: string };

/** One shelf under a name, on an axis of age that others share. */
export function Shelf({
  shelf,
  name,
  note,
  of,
  longest,
  width,
  labels,
  right,
  row = ROW,
}: {
  shelf: ShelfView;
  name: string;
  note: string;
  of: Owner;
  longest: number;
  width: number;
  labels: number;
  right: number;
  row?: number;
}) {
  const x = (at: string) => labels + shelfScale(longest, width)(ageOf(at, of.asOf));
  const reach = shelf.reachSeconds !== null ? labels + shelfScale(longest, width)(shelf.reachSeconds) : null;
  return (
    <svg
      width={labels + width + right}
      height={row}
      role="group"
      aria-label={`${name}, ${shelfText(shelf, of.asOf)}`}
      className="block"
      data-store={shelf.store}
    >
      <text
        x={labels - 10}
        y={note ? MIDDLE - 1 : MIDDLE + 4}
        textAnchor="end"
        fontSize={12}
        fill="var(--ink)"
      >
        {name}
      </text>
      <text x={labels - 10} y={MIDDLE + 12} textAnchor="end" fontSize={11} fill="var(--muted)">
        {note}
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
        <line x1={reach} x2={reach} y1={1} y2={row - 6} stroke="var(--violet)" strokeDasharray="4 3" />
      )}
      {shelf.backups.map((b) => (
        <Standing key={b.id} backup={b} store={shelf.store} of={of} x={x(b.at)} />
      ))}
      <text x={labels + width + right} y={MIDDLE + 4} textAnchor="end" fontSize={12} fill="var(--muted)">
        {shelf.obsoleteBytes > 0 ? size(shelf.obsoleteBytes) : "nothing"}
        <title>bytes that no rule needs</title>
      </text>
    </svg>
  );
}

/** A backup as it stands on the shelf; asks why. */
function Standing({ backup, store, of, x }: { backup: Lying; store: string; of: Owner; x: number }) {
  const ask = useAskWhy();
  const subject = { database: of.id, about: "copy", backup: backup.id, store } as const;
  const full = backup.kind === "full";
  const height = full ? 24 : backup.kind === "config" ? 6 : backup.kind === "diff" ? 15 : 11;
  const needed = backup.verdict === "needed";
  const colour = backup.lockedUntil ? "var(--violet)" : "var(--ink)";
  const open = () => ask(subject, of.zone);
  return (
    <g
      role="button"
      tabIndex={full ? 0 : -1}
      className="cursor-pointer"
      aria-label={`${lyingText(backup, of.asOf)}. Why?`}
      data-why={JSON.stringify({ subject, zone: of.zone })}
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
      <title>{lyingText(backup, of.asOf)}</title>
    </g>
  );
}
