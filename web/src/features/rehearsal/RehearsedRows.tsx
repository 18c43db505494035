import { Link } from "react-router";
import { useMore } from "../../api/stretch";
import { rowsOf, type Rehearsed, type RehearsedRow } from "./api";
import { duration, promise } from "../../time/words";
import { MoreButton } from "../../ui/MoreButton";
import { useWidth } from "../../ui/useWidth";

const LABELS = 130;
const RIGHT = 320;
const ROW = 26;

/** The databases a loss asks to restore, as bars in the order they are restored; then the rest. */
export function Rows({ id, result }: { id: string; result: Rehearsed }) {
  const [box, width] = useWidth<HTMLDivElement>();
  const wanted = useMore(rowsOf(id, true), { rows: result.rows.filter((r) => r.restored) }, result.restored);
  const longest = Math.max(
    1,
    result.seconds,
    ...wanted.rows.map((r) => r.promised ?? 0).filter((p) => p < result.seconds * 3),
  );
  const room = Math.max(120, width - LABELS - RIGHT);
  return (
    <div ref={box} className="mt-3">
      <ol aria-label="In this order">
        {wanted.rows.map((r) => (
          <Row key={r.database} row={r} room={room} longest={longest} />
        ))}
      </ol>
      <p className="text-note text-muted">
        A bar is the time a restore takes beside the others, coral where it misses the promise; dashed violet:
        the promised restore time.
      </p>
      <MoreButton left={wanted.left} onMore={wanted.more} />
      {result.databases > result.restored && <StillRunning id={id} result={result} />}
    </div>
  );
}

/** Databases that are not down. */
function StillRunning({ id, result }: { id: string; result: Rehearsed }) {
  const rest = useMore(
    rowsOf(id, false),
    { rows: result.rows.filter((r) => !r.restored) },
    result.databases - result.restored,
  );
  return (
    <>
      <h2 className="mt-5 text-section">Still running</h2>
      <p className="text-muted">What their backups would still be worth in the meantime.</p>
      <ul className="mt-1 columns-2 gap-x-8 max-[1000px]:columns-1">
        {rest.rows.map((r) => (
          <li key={r.database} className="flex gap-2 border-b border-line py-0.5">
            <span className="font-semibold">{r.name}</span>
            <span className={`ml-auto ${r.reached ? "" : "text-coral-text"}`}>
              {r.reached ? `could go back to ${duration(r.age ?? 0)} before` : "nothing would be left"}
            </span>
          </li>
        ))}
      </ul>
      <MoreButton left={rest.left} onMore={rest.more} />
    </>
  );
}

function Row({ row, room, longest }: { row: RehearsedRow; room: number; longest: number }) {
  const x = (seconds: number) => (seconds / longest) * room;
  const late = row.promised !== null && row.ends !== null && row.ends > row.promised;
  return (
    <li
      className="grid items-center border-b border-line"
      style={{ gridTemplateColumns: `${LABELS}px ${room}px minmax(0,1fr)` }}
      data-rehearsed={row.database}
    >
      <Link
        className="whole truncate pr-2 font-semibold"
        to={`/restore?database=${encodeURIComponent(row.database)}`}
      >
        {row.name}
      </Link>
      {row.begins !== null && row.ends !== null ? (
        <svg width={room} height={ROW} role="img" aria-label={spoken(row)}>
          <rect
            x={x(row.begins)}
            y={6}
            width={Math.max(2, x(row.ends - row.begins))}
            height={ROW - 12}
            rx={3}
            fill={late ? "var(--coral)" : "var(--water-3)"}
          />
          {row.promised !== null && x(row.promised) <= room && (
            <line
              x1={x(row.promised)}
              x2={x(row.promised)}
              y1={2}
              y2={ROW - 2}
              stroke="var(--violet)"
              strokeWidth={2}
              strokeDasharray="3 2"
            />
          )}
        </svg>
      ) : (
        <span className="text-small">
          {row.reached ? (
            <span className="text-ochre-text">how long it takes is not known</span>
          ) : (
            <span className="text-coral-text">cannot be restored; {row.cure}</span>
          )}
        </span>
      )}
      <span className="truncate pl-3 text-small" title={row.stores.join(", ")}>
        {row.ends !== null && (
          <>
            back after{" "}
            <b className={late ? "text-coral-text" : ""}>
              {duration(row.ends)}
              {late && row.promised !== null && `, promised ${promise(row.promised)}`}
            </b>
          </>
        )}
        {row.age !== null && (
          <span className={row.within === false ? "text-coral-text" : "text-muted"}>
            {" "}
            loses {duration(row.age)}
            {row.within === false && ", more than promised"}
          </span>
        )}
      </span>
    </li>
  );
}

function spoken(row: RehearsedRow): string {
  const held = row.heldBack ? ", held back though there would be room" : "";
  return `${row.name}: from ${duration(row.begins ?? 0)} to ${duration(row.ends ?? 0)} after the beginning${held}`;
}
