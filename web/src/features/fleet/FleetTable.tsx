import { useRef, type RefObject } from "react";
import { Link } from "react-router";
import { BLOCK, useRest } from "../../api/stretch";
import type { FleetChoices, FleetRow, FleetView } from "../../api/types";
import { date, viewerZone } from "../../time/words";
import { useKeys } from "../../ui/useKeys";
import { focusRow, useWindowRows } from "../../ui/useRows";
import { useSettled } from "../../ui/useSettled";
import { fleetOf, type FleetAsked } from "./api";
import { ReadyMark } from "./ReadyMark";
import { readyWords } from "./readiness";

/** About how high a row is before it was drawn, in pixels. */
const ROW = 28;

/** For so many milliseconds rows are in sight before they are asked for. */
const SETTLES = 80;

/** What stands in each column, and how much of the width it takes: the same whichever rows are in sight. */
const COLUMNS: [name: string, width: string][] = [
  ["database", "20%"],
  ["engine", "12%"],
  ["site", "9%"],
  ["host", "10%"],
  ["system", "9%"],
  ["owner", "8%"],
  ["policy", "9%"],
  ["route", "12%"],
  ["readiness", "11%"],
  ["", "56px"],
];

type Chosen = ReadonlyMap<string, FleetRow>;

/** The databases asked for, however many: those in sight are drawn and asked for. */
export function FleetTable(props: {
  first: FleetView;
  asked: FleetAsked;
  choices: FleetChoices;
  everything: boolean;
  chooseAll: () => void;
  chosen: Chosen;
  setChosen: (next: Chosen) => void;
  onEdit: (id: string) => void;
}) {
  const { first, asked, chosen, setChosen } = props;
  const table = useRef<HTMLTableElement>(null);
  const rows = useWindowRows(first.found, ROW, table);
  const inSight = rows.getVirtualItems();
  const at = useSeen(
    asked,
    first,
    inSight.map((item) => item.index),
  );
  const toggle = (row: FleetRow) => {
    const next = new Map(chosen);
    if (!next.delete(row.id)) next.set(row.id, row);
    setChosen(next);
  };
  useRowKeys(table, first.found, (index) => rows.scrollToIndex(index), at, toggle);
  const before = (inSight[0]?.start ?? 0) - rows.options.scrollMargin;
  const after = rows.getTotalSize() - ((inSight[inSight.length - 1]?.end ?? 0) - rows.options.scrollMargin);
  return (
    <table
      ref={table}
      className="mt-2 w-full table-fixed border-collapse"
      data-testid="fleet"
      aria-rowcount={first.found + 1}
    >
      <Head everything={props.everything} chooseAll={props.chooseAll} />
      <tbody>
        <Space height={inSight.length > 0 ? before : 0} />
        {inSight.map(({ index }) => {
          const row = at(index);
          return row ? (
            <Row
              key={index}
              row={row}
              at={index}
              measure={rows.measureElement}
              fleet={props.choices}
              chosen={chosen.has(row.id)}
              onChoose={() => toggle(row)}
              onEdit={() => props.onEdit(row.id)}
            />
          ) : (
            <tr
              key={index}
              data-index={index}
              className="border-t border-line text-muted"
              style={{ height: ROW }}
              aria-hidden
            >
              <td colSpan={COLUMNS.length + 1}>…</td>
            </tr>
          );
        })}
        <Space height={inSight.length > 0 ? after : 0} />
      </tbody>
    </table>
  );
}

/** The rows that have been in sight for a moment: what only passes by is not asked for. */
function useSeen(asked: FleetAsked, first: FleetView, inSight: number[]) {
  const from = Math.floor((inSight[0] ?? 0) / BLOCK);
  const to = Math.floor((inSight[inSight.length - 1] ?? 0) / BLOCK);
  const settled = useSettled(`${from} ${to}`, SETTLES);
  const [begin, end] = settled.split(" ").map(Number) as [number, number];
  return useRest(
    fleetOf(asked),
    first,
    Array.from({ length: end - begin + 1 }, (_, b) => (begin + b) * BLOCK),
  );
}

function Head({ everything, chooseAll }: { everything: boolean; chooseAll: () => void }) {
  return (
    <thead className="text-note text-muted">
      <tr className="text-left">
        <th className="w-7">
          <input type="checkbox" aria-label="Choose all of these" checked={everything} onChange={chooseAll} />
        </th>
        {COLUMNS.map(([name, width]) => (
          <th key={name} className="pr-3 font-normal" style={{ width }}>
            {name}
          </th>
        ))}
      </tr>
    </thead>
  );
}

/** Stands for the rows that are not drawn. */
function Space({ height }: { height: number }) {
  return height > 0 ? (
    <tr aria-hidden>
      <td colSpan={COLUMNS.length + 1} style={{ height }} />
    </tr>
  ) : null;
}

/** j and k go from one row to the next, x chooses the one that has the focus. */
function useRowKeys(
  table: RefObject<HTMLTableElement | null>,
  many: number,
  scrollTo: (index: number) => void,
  at: (index: number) => FleetRow | undefined,
  toggle: (row: FleetRow) => void,
) {
  const focused = () => Number(table.current?.querySelector<HTMLElement>("tr:focus")?.dataset.at ?? -1);
  const move = (by: number) => {
    const next = Math.min(many - 1, Math.max(0, focused() + by));
    if (next < 0) return;
    if (!table.current?.querySelector(`[data-at="${next}"]`)) scrollTo(next);
    focusRow(table, next);
  };
  useKeys({
    j: () => move(1),
    k: () => move(-1),
    x: () => {
      const row = at(focused());
      if (row) toggle(row);
    },
  });
}

function Row(props: {
  row: FleetRow;
  at: number;
  measure: (row: Element | null) => void;
  fleet: FleetChoices;
  chosen: boolean;
  onChoose: () => void;
  onEdit: () => void;
}) {
  const { row: r, fleet, chosen, at, measure, onChoose, onEdit } = props;
  const name = (list: { id: string; name: string }[], id: string | null) =>
    list.find((n) => n.id === id)?.name ?? id ?? "";
  return (
    <tr
      tabIndex={0}
      data-row={r.id}
      data-at={at}
      data-index={at}
      ref={measure}
      className={`border-t border-line align-top ${chosen ? "bg-chosen" : ""}`}
      onKeyDown={(e) => {
        if (e.key === "Enter" && e.target === e.currentTarget) onEdit();
      }}
    >
      <td className="py-1">
        <input type="checkbox" aria-label={`Choose ${r.name}`} checked={chosen} onChange={onChoose} />
      </td>
      <th scope="row" className="py-1 pr-3 text-left font-normal">
        <Link
          className="font-semibold hover:underline"
          to={`/databases/${encodeURIComponent(r.standbyOf ?? r.id)}`}
        >
          {r.name}
        </Link>
        <span className="block text-note text-muted">
          {Object.entries(r.labels)
            .map(([k, v]) => `${k}=${v}`)
            .join(", ")}
          {r.retired && ` retired ${date(r.retired, viewerZone)}`}
          {r.standbyOf && ` standby of ${r.standbyOf}`}
          {r.stopped && " stopped now"}
        </span>
        <Attention row={r} />
      </th>
      <td className="py-1 pr-3">{r.engine}</td>
      <td className="py-1 pr-3">{r.site}</td>
      <td className="py-1 pr-3 break-words">{r.host}</td>
      <td className="py-1 pr-3">{r.system}</td>
      <td className="py-1 pr-3">{r.owner}</td>
      <td className={`py-1 pr-3 ${r.policy ? "" : "text-coral-text"}`}>
        {r.policy ? (
          <Link className="hover:underline" to={`/policies/${encodeURIComponent(r.policy)}`}>
            {name(fleet.policies, r.policy)}
          </Link>
        ) : (
          "none"
        )}
      </td>
      <td className="py-1 pr-3">{name(fleet.routes, r.route)}</td>
      <td className="py-1 pr-3">
        <Link className="hover:underline" to={`/fleet/${encodeURIComponent(r.id)}/readiness`}>
          <ReadyMark state={r.readiness.state} /> {readyWords(r.readiness)}
        </Link>
      </td>
      <td className="py-1 text-right">
        <button className="text-button" aria-label={`Edit ${r.name}`} onClick={onEdit}>
          Edit…
        </button>
      </td>
    </tr>
  );
}

function Attention({ row: r }: { row: FleetRow }) {
  const says: Record<FleetRow["attention"][number], string> = {
    "no-policy": "No policy: nothing is promised, nothing of it may be purged.",
    "unknown-policy": `Its policy ${r.policy} is not known.`,
    "two-rules": `Falls under ${r.rules.length} standing rules that differ: ${r.rules.join(", ")}.`,
    clone: `Another goes by its name on ${r.namesake?.host ?? "a host"}: the engine there calls itself ${
      r.namesake?.identity ?? "something else"
    }, this one ${r.identity}.`,
  };
  return r.attention.map((a) => (
    <span key={a} className="block max-w-[340px] text-note text-ochre-text">
      {says[a]}
    </span>
  ));
}
