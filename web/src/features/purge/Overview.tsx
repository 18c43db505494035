import { useMemo, useState } from "react";
import type { ShelfRow } from "./api";
import { viewerZone } from "../../time/words";
import { useWidth } from "../../ui/useWidth";
import { Shelf, ShelfAxis } from "../database/Shelves";
import { oldest } from "../database/shelf";

const LABELS = 150;
const RIGHT = 76;
const SHELVES = 9;

/** The shelves that have most on them, on one axis; of several stores each says of which. */
export function Overview(props: { rows: ShelfRow[]; asOf: string; many: boolean }) {
  const { rows, asOf, many } = props;
  const [box, width] = useWidth<HTMLDivElement>();
  const [all, setAll] = useState(false);
  const longest = useMemo(
    () =>
      oldest(
        rows.map((r) => r.shelf),
        asOf,
      ),
    [rows, asOf],
  );
  const room = Math.max(0, width - LABELS - RIGHT);
  if (rows.length === 0) return null;
  return (
    <section ref={box} aria-label="Shelves" className="mt-2" data-testid="purge-shelves">
      {width > 0 && (
        <>
          {(all ? rows : rows.slice(0, SHELVES)).map((r) => (
            <Shelf
              key={r.database + r.shelf.store}
              shelf={r.shelf}
              name={r.name}
              note={many ? r.shelf.name : ""}
              of={{ id: r.database, zone: viewerZone, asOf }}
              longest={longest}
              width={room}
              labels={LABELS}
              right={RIGHT}
              row={many ? 44 : 36}
            />
          ))}
          <ShelfAxis longest={longest} width={room} labels={LABELS} />
        </>
      )}
      <p className="text-note text-muted">
        By age, newest left. Filled: a rule needs it; hollow: none does. A band is logs. Violet: a lock, a
        hold (square) or the promised reach (dashed).
        {rows.length > SHELVES && (
          <button className="text-button ml-2" onClick={() => setAll(!all)}>
            {all ? "Fewer shelves" : `All ${rows.length} shelves`}
          </button>
        )}
      </p>
    </section>
  );
}
