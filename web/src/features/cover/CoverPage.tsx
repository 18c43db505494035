import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from "react";
import { useNavigate } from "react-router";
import type { Cover, Row } from "../../api/types";
import { useCover, useCoverRows } from "../../api/cover";
import { Legend, RibbonPatterns } from "../../ribbon/Ribbon";
import { hazardName } from "../../ribbon/words";
import { useSilent, useStanding } from "../../time/standing";
import { useView } from "../../time/view";
import { count, lastDays } from "../../time/words";
import { Choice } from "../../ui/Choice";
import { Held } from "../../ui/Held";
import { ProblemNote } from "../../ui/ProblemNote";
import { useAsked } from "../../ui/useAsked";
import { useKeys } from "../../ui/useKeys";
import { useTop } from "../../ui/useTop";
import { useWidth } from "../../ui/useWidth";
import { useImport } from "../intake/ImportDrop";
import { askedOf, FILTERS, type Grouping, type Hazard, type Order } from "./asked";
import { CoverFilter } from "./CoverFilter";
import { CoverRow, RowToCome } from "./CoverRow";

const HAZARDS: Hazard[] = ["mishap", "siteLoss", "sabotage"];
const FIXED = 250 + 326;
/** In a box narrower than this two columns, and the word beside the gauge, are left out. */
const NARROW = 760;
const FIXED_NARROW = 150 + 196;

/** Up to so many rows all are drawn; of more only those in sight. */
const ALL_DRAWN = 150;
const ROW = 34;

/** So many of a very large fleet are listed, and as many more each time they are asked for. */
const LISTED = 2_000;
const HEAD = 40;

/** The fleet as ribbons: which moments could be restored, and how many hazards each survives. */
export function CoverPage() {
  const view = useView();
  const [params] = useAsked();
  const [ids, setIds] = useState(LISTED);
  const cover = useCover(
    view.params,
    useMemo(() => ({ ...askedOf(params), ids }), [params, ids]),
  );
  useEffect(() => {
    document.title = "Cover · Firth";
  }, []);
  if (cover.error) return <ProblemNote error={cover.error} />;
  if (!cover.data) return <Waiting />;
  return (
    <Held stale={cover.isPlaceholderData}>
      {cover.data.databases === 0 ? (
        <Empty />
      ) : (
        <Fleet cover={cover.data} days={view.days} onMore={() => setIds(ids + LISTED)} />
      )}
    </Held>
  );
}

function Waiting() {
  return (
    <main className="space-y-4 px-5 py-6" aria-busy>
      {Array.from({ length: 10 }, (_, i) => (
        <div key={i} className="h-4 bg-line/60" />
      ))}
    </main>
  );
}

function Empty() {
  const choose = useImport();
  return (
    <main className="mx-auto mt-20 max-w-xl text-center">
      <h1 className="text-page">No databases yet</h1>
      <p className="mt-2 text-muted">
        Drop a fleet file anywhere on this page: sites, stores, policies, databases and their backups, one
        record a line. Ten seconds later this page shows what can be restored.
      </p>
      <button className="ink-button mt-5" onClick={choose}>
        Choose a file
      </button>
    </main>
  );
}

/** What stands below each other: each group that has databases listed, and those. */
const itemsOf = (cover: Cover) =>
  cover.groups
    .filter((group) => group.databases.length > 0)
    .flatMap((group): Item[] => [{ group }, ...group.databases.map((id) => ({ group, id }))]);

function Fleet({ cover, days, onMore }: { cover: Cover; days: number; onMore: () => void }) {
  const standing = useStanding();
  const silent = useSilent();
  const [params, { ask: set, forget }] = useAsked();
  const [box, width] = useWidth<HTMLDivElement>();
  const narrow = width > 0 && width < NARROW;
  const columns = narrow ? 4 : 6;
  const navigate = useNavigate();
  const { search } = useView();
  const asked = askedOf(params);
  const hazard = asked.hazard as Hazard;
  const found = cover.groups.reduce((sum, g) => sum + g.found, 0);
  const flat = useMemo(() => cover.groups.flatMap((g) => g.databases), [cover.groups]);
  const items = useMemo(() => itemsOf(cover), [cover]);
  const body = useRef<HTMLTableElement>(null);
  const drawn = useDrawn(items, body);
  const { params: seen } = useView();
  const rows = useCoverRows(
    seen,
    cover,
    flat,
    drawn.items.flatMap((i) => i.id ?? []),
  );
  const { chosen, setChosen, move } = useChosenRow(flat, items, drawn, body);

  const open = useCallback(
    (id: string) => void navigate(`/databases/${encodeURIComponent(id)}${search}`),
    [navigate, search],
  );
  useKeys({
    j: () => move(1),
    k: () => move(-1),
    "1": () => set("hazard", "mishap", "mishap"),
    "2": () => set("hazard", "siteLoss", "mishap"),
    "3": () => set("hazard", "sabotage", "mishap"),
  });

  return (
    <main className="px-5 pt-3 pb-10">
      <RibbonPatterns />
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-page">Cover</h1>
        <p className="text-muted">
          Which moments of the {lastDays(days)} could be restored, and how many hazards each would survive
        </p>
      </div>
      <CoverChoices hazard={hazard} set={set} by={asked.by as Grouping} />
      <CoverFilter
        cover={cover}
        shown={found}
        filter={asked}
        onChange={set}
        onClear={() => forget(FILTERS)}
      />
      <div ref={box} className="mt-3">
        <table ref={body} className="w-full table-fixed border-collapse" data-testid="cover">
          <CoverHeads narrow={narrow} order={asked.order as Order} set={set} />
          <CoverBody
            drawn={drawn}
            rows={rows}
            columns={columns}
            cover={cover}
            hazard={hazard}
            width={width}
            narrow={narrow}
            chosen={chosen}
            flat={flat}
            setChosen={setChosen}
            open={open}
            standing={standing}
            silent={silent}
          />
        </table>
        <ListMore found={found} listed={flat.length} onMore={onMore} />
      </div>
    </main>
  );
}

/** Lists more of a very large fleet, or says that nothing is found. */
function ListMore({ found, listed, onMore }: { found: number; listed: number; onMore: () => void }) {
  if (found === 0) return <p className="mt-6 text-muted">No database is like that.</p>;
  if (found === listed) return null;
  return (
    <button className="text-button mt-2" onClick={onMore}>
      List more of the {count(found - listed)} that follow
    </button>
  );
}

/** The row that is chosen, and going from it to the next ones, which get the focus once they are drawn. */
function useChosenRow(
  flat: string[],
  items: Item[],
  drawn: ReturnType<typeof useDrawn>,
  body: RefObject<HTMLElement | null>,
) {
  const [chosen, setChosen] = useState<string | null>(null);
  const move = (by: number) => {
    const at = flat.findIndex((id) => id === chosen);
    const next = flat[Math.min(flat.length - 1, Math.max(0, at + by))];
    if (!next) return;
    setChosen(next);
    drawn.bring(items.findIndex((i) => i.id === next));
    const focus = () => body.current?.querySelector<HTMLElement>(`[data-row="${CSS.escape(next)}"]`)?.focus();
    focus();
    if (drawn.some) requestAnimationFrame(() => requestAnimationFrame(focus));
  };
  return { chosen, setChosen, move };
}

/** Under which hazard, and in what order. */
function CoverChoices(props: {
  hazard: Hazard;
  set: (name: string, value: string, otherwise?: string) => void;
  by: Grouping;
}) {
  const { hazard, set, by } = props;
  return (
    <div className="mt-1 flex flex-wrap items-center justify-between gap-x-6 gap-y-2">
      <Legend />
      <div className="flex items-center gap-4 text-note">
        <Choice
          label="after"
          value={hazard}
          options={HAZARDS.map((h) => [h, hazardName(h)])}
          onChange={(v) => set("hazard", v, "mishap")}
        />
        <Choice
          label="by"
          value={by}
          options={[
            ["policy", "policy"],
            ["site", "site"],
            ["engine", "engine"],
            ["none", "one list"],
          ]}
          onChange={(v) => set("by", v, "policy")}
        />
      </div>
    </div>
  );
}

function CoverHeads(props: {
  narrow: boolean;
  order: Order;
  set: (name: string, value: string, otherwise?: string) => void;
}) {
  const { narrow, order, set } = props;
  return (
    <thead className="text-note text-muted">
      <tr>
        <th className={`text-left font-normal ${narrow ? "w-[150px]" : "w-[236px]"}`}>
          <Sorter name="name" text="database" order={order} onChange={(v) => set("order", v, "name")} />
        </th>
        <th className="font-normal">
          <span className="sr-only">cover</span>
        </th>
        <th className="w-[90px] text-right font-normal">
          <Sorter name="age" text="age now" order={order} onChange={(v) => set("order", v, "name")} />
        </th>
        {!narrow && (
          <>
            <th className="w-[76px] text-right font-normal">promised</th>
            <th className="w-[76px] text-right font-normal">
              <Sorter
                name="attainment"
                text="attainment"
                order={order}
                onChange={(v) => set("order", v, "name")}
              />
            </th>
          </>
        )}
        <th className="w-[92px] text-right font-normal">
          <Sorter name="reach" text="reach" order={order} onChange={(v) => set("order", v, "name")} />
        </th>
      </tr>
    </thead>
  );
}

/** The lines in sight, below what they are grouped by. */
function CoverBody(props: {
  drawn: ReturnType<typeof useDrawn>;
  rows: Map<string, Row>;
  columns: number;
  cover: Cover;
  hazard: Hazard;
  width: number;
  narrow: boolean;
  chosen: string | null;
  flat: string[];
  setChosen: (next: string | null) => void;
  open: (id: string) => undefined;
  standing: number | null;
  silent: Map<string, string>;
}) {
  const {
    drawn,
    rows,
    columns,
    cover,
    hazard,
    width,
    narrow,
    chosen,
    flat,
    setChosen,
    open,
    standing,
    silent,
  } = props;
  return (
    <tbody>
      {drawn.before > 0 && <Space height={drawn.before} columns={columns} />}
      {drawn.items.map(({ group, id }) => {
        const row = id && rows.get(id);
        if (row)
          return (
            <CoverRow
              key={id}
              row={row}
              cover={cover}
              hazard={hazard}
              width={Math.max(120, width - (narrow ? FIXED_NARROW : FIXED))}
              narrow={narrow}
              chosen={chosen === id}
              first={chosen === null && id === flat[0]}
              onChoose={setChosen}
              onOpen={open}
              standing={standing}
              silent={silent.get(id)}
            />
          );
        if (id) return <RowToCome key={id} id={id} columns={columns} />;
        return (
          <tr key={`group ${group.title}`} style={{ height: HEAD }}>
            <th
              colSpan={columns}
              scope="rowgroup"
              className="border-b border-line pb-0.5 text-left align-bottom"
            >
              <h2 className="text-lead">
                {group.title}
                {group.promise && <span className="text-muted"> · {group.promise}</span>}
              </h2>
            </th>
          </tr>
        );
      })}
      {drawn.after > 0 && <Space height={drawn.after} columns={columns} />}
    </tbody>
  );
}

type Item = { group: Cover["groups"][number]; id?: string };

function Space({ height, columns }: { height: number; columns: number }) {
  return (
    <tr aria-hidden>
      <td colSpan={columns} style={{ height, padding: 0 }} />
    </tr>
  );
}

/** The rows in sight of a long list, with the room that those before and after them take; all of a short one. */
function useDrawn(items: Item[], body: RefObject<HTMLElement | null>) {
  const some = items.length > ALL_DRAWN;
  const top = useTop(body);
  const rows = useWindowVirtualizer({
    count: some ? items.length : 0,
    estimateSize: (i) => (items[i]?.id ? ROW : HEAD),
    overscan: 15,
    scrollMargin: top,
  });
  const shown = rows.getVirtualItems();
  const first = shown[0];
  const last = shown[shown.length - 1];
  return {
    some,
    items: some ? shown.flatMap((v) => items[v.index] ?? []) : items,
    before: first ? first.start - top : 0,
    after: last ? rows.getTotalSize() - (last.end - top) : 0,
    bring: (index: number) => some && rows.scrollToIndex(index, { align: "auto" }),
  };
}

function Sorter(props: { name: Order; text: string; order: Order; onChange: (order: Order) => void }) {
  const on = props.order === props.name;
  return (
    <button
      className={on ? "font-semibold text-ink" : ""}
      aria-pressed={on}
      title={`Order by ${props.text}`}
      onClick={() => props.onChange(props.name)}
    >
      {props.text}
      {on ? " ↓" : ""}
    </button>
  );
}
