import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { GapRow, GapsView } from "../../api/types";
import { useFirst, useRest } from "../../api/stretch";
import { gapsOf, useOutages, type GapsAsked } from "./api";
import { useView } from "../../time/view";
import { day, moment, span } from "../../time/words";
import { Choice } from "../../ui/Choice";
import { Held } from "../../ui/Held";
import { ProblemNote } from "../../ui/ProblemNote";
import { useAsked } from "../../ui/useAsked";
import { useKeys } from "../../ui/useKeys";
import { focusRow, useRows } from "../../ui/useRows";
import { WordsField } from "../../ui/WordsField";
import { useAskWhy, whyOf } from "../../why/context";
import { Outages } from "./Outages";
import { length, lost, tally } from "./say";
import { written } from "../../ui/positions";

const ROW = 30;
const COLUMNS =
  "grid grid-cols-[minmax(130px,1fr)_196px_132px_132px_146px_minmax(130px,1.1fr)_minmax(130px,1.2fr)_64px_40px] items-center gap-x-3";

/** Every hole in the logs of the fleet, and how outages line up by store and hour. */
export function GapsPage() {
  const view = useView();
  const [params] = useAsked();
  const asked = {
    words: params.get("words") ?? "",
    state: params.get("state") ?? "",
    reach: params.get("reach") ?? "",
  };
  const gaps = useFirst(gapsOf(view.params, asked));
  useEffect(() => {
    document.title = "Gaps · Firth";
  }, []);
  if (gaps.error) return <ProblemNote error={gaps.error} />;
  return (
    <main className="px-5 pt-3 pb-6">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-page">Gaps</h1>
        <p className="text-muted" role="status">
          {!gaps.data
            ? "reading"
            : gaps.data.all.gaps === 0
              ? "No log of any database is missing."
              : tally(gaps.data.all)}
        </p>
        <Link className="text-button ml-auto" to={`/cover${view.search}`}>
          Cover of the fleet
        </Link>
      </div>
      {gaps.data && gaps.data.all.gaps > 0 && (
        <Body gaps={gaps.data} asked={asked} stale={gaps.isPlaceholderData} />
      )}
    </main>
  );
}

function Body({ gaps, asked, stale }: { gaps: GapsView; asked: GapsAsked; stale: boolean }) {
  const [, { ask: set }] = useAsked();
  const outages = useOutages(useView().params);
  const { words, state, reach } = asked;
  return (
    <>
      {outages.data && (
        <Held stale={outages.isPlaceholderData}>
          <Outages gaps={outages.data} />
        </Held>
      )}
      <div className="mt-4 flex flex-wrap items-center gap-x-4 gap-y-2">
        <WordsField
          label="Words in databases, policies, stores and causes"
          initial={words}
          className="w-[220px] py-1"
          onChange={(w) => set("words", w)}
        />
        <Choice
          label="Bridged"
          labelled={false}
          value={state}
          options={[
            ["", "bridged or not"],
            ["open", "open"],
            ["unbridged", "unbridged"],
            ["bridged", "bridged"],
          ]}
          onChange={(v) => set("state", v)}
        />
        <Choice
          label="Reach"
          labelled={false}
          value={reach}
          options={[
            ["", "inside reach and beyond"],
            ["inside", "inside reach"],
            ["beyond", "beyond reach"],
          ]}
          onChange={(v) => set("reach", v)}
        />
        <span className="text-muted">{gaps.found.gaps === gaps.all.gaps ? "" : tally(gaps.found)}</span>
      </div>
      <Held stale={stale}>
        {gaps.found.gaps === 0 ? (
          <p className="mt-6 text-muted">No gap is like that.</p>
        ) : (
          <Table gaps={gaps} asked={asked} />
        )}
      </Held>
    </>
  );
}

function Table({ gaps, asked }: { gaps: GapsView; asked: GapsAsked }) {
  const many = gaps.found.gaps;
  const { asOf } = gaps;
  const box = useRef<HTMLDivElement>(null);
  const [at, setChosen] = useState(-1);
  const chosen = Math.min(at, many - 1);
  const navigate = useNavigate();
  const { search, params } = useView();
  const shown = useRows(many, () => ROW, box);
  const items = shown.getVirtualItems();
  const rowAt = useRest(
    gapsOf(params, asked),
    gaps,
    items.map((i) => i.index),
  );
  const move = (by: number) => {
    const next = Math.min(many - 1, Math.max(0, chosen + by));
    setChosen(next);
    shown.scrollToIndex(next);
    focusRow(box, next);
  };
  useKeys({ j: () => move(1), k: () => move(-1) });
  return (
    <div className="mt-2 overflow-x-auto">
      <div role="table" aria-label="Gaps" aria-rowcount={many} className="min-w-[1210px]" data-testid="gaps">
        <div role="rowgroup">
          <div role="row" className={`${COLUMNS} border-b border-line pr-4 pb-1 text-note text-muted`}>
            {[
              "database",
              "logs are missing",
              "for",
              "not restorable",
              "positions",
              "why",
              "cover begins again",
              "leaves reach",
              "",
            ].map((text) => (
              <span key={text} role="columnheader">
                {text || <span className="sr-only">why</span>}
              </span>
            ))}
          </div>
        </div>
        <div
          ref={box}
          role="rowgroup"
          tabIndex={-1}
          className="h-[calc(100vh-390px)] min-h-[210px] overflow-y-auto"
        >
          <div className="relative" style={{ height: shown.getTotalSize() }}>
            {items.map((item) => {
              const row = rowAt(item.index);
              return (
                row && (
                  <Row
                    key={`${row.database} ${row.gap.lineage} ${row.gap.stream} ${row.gap.fromPosition} ${row.gap.state}`}
                    row={row}
                    asOf={asOf}
                    at={item.index}
                    chosen={item.index === chosen}
                    first={chosen < 0 && item.index === 0}
                    style={{ height: ROW, transform: `translateY(${item.start}px)` }}
                    onChoose={() => setChosen(item.index)}
                    onOpen={() => void navigate(`/databases/${encodeURIComponent(row.database)}${search}`)}
                  />
                )
              );
            })}
          </div>
        </div>
      </div>
    </div>
  );
}

type RowProps = {
  row: GapRow;
  asOf: string;
  at: number;
  chosen: boolean;
  first: boolean;
  style: React.CSSProperties;
  onChoose: () => void;
  onOpen: () => void;
};

function Row({ row, asOf, at, chosen, first, style, onChoose, onOpen }: RowProps) {
  const { search } = useView();
  const ask = useAskWhy();
  const { gap } = row;
  const stopped = gap.state === "open";
  const subject = stopped
    ? ({ database: row.database, about: "age", hazard: "mishap" } as const)
    : ({
        database: row.database,
        about: "gap",
        position: gap.fromPosition,
        lineage: gap.lineage,
        stream: gap.stream,
      } as const);
  return (
    <div
      role="row"
      aria-rowindex={at + 2}
      data-at={at}
      data-gap={row.database}
      tabIndex={chosen || first ? 0 : -1}
      className={`${COLUMNS} absolute inset-x-0 border-b border-line/60 pr-4 whitespace-nowrap ${chosen ? "bg-chosen" : ""}`}
      style={style}
      {...(chosen ? { "data-chosen": "" } : {})}
      {...whyOf(subject, row.zone)}
      onFocus={onChoose}
      onKeyDown={(e) => e.key === "Enter" && e.target === e.currentTarget && onOpen()}
    >
      <GapDatabase row={row} search={search} />
      <span
        role="cell"
        className="truncate"
        title={`${gap.after ?? "?"} to ${gap.before ?? "?"}, shown in ${row.zone}`}
      >
        {when(row)}
      </span>
      <span role="cell" className={stopped ? "font-semibold text-coral-text" : ""}>
        {length(row, asOf)}
      </span>
      <span
        role="cell"
        title={row.lostFrom ? `${row.lostFrom} to ${row.lostTo ?? "now"}` : "every moment can be restored"}
      >
        {lost(row, asOf)}
      </span>
      <span
        role="cell"
        className="truncate font-mono text-note"
        title={`lineage ${gap.lineage}, stream ${gap.stream}`}
      >
        {written(row.engine, gap.fromPosition)} – {stopped ? "" : written(row.engine, gap.toPosition)}
        {gap.stream === "main" ? "" : ` ${gap.stream}`}
      </span>
      <span role="cell" className="truncate">
        {gap.cause.replaceAll("-", " ")}
        <span className="text-muted">, {row.storeName}</span>
      </span>
      <span role="cell" className={`truncate ${gap.bridgedBy ? "" : "font-semibold text-coral-text"}`}>
        {gap.bridgedBy ? `with ${gap.bridgedBy}` : stopped ? "when logs come again" : "nowhere: unbridged"}
      </span>
      <span role="cell" className="text-muted">
        {stopped
          ? ""
          : row.inside
            ? row.leavesReach
              ? day(row.leavesReach, row.zone)
              : "stays"
            : "is beyond"}
      </span>
      <span role="cell">
        <button className="text-button" tabIndex={-1} onClick={() => ask(subject, row.zone)}>
          Why?
        </button>
      </span>
    </div>
  );
}

function GapDatabase(props: { row: GapRow; search: string }) {
  const { row, search } = props;
  return (
    <span role="cell" className="whole truncate">
      <Link
        className="font-semibold hover:underline"
        to={`/databases/${encodeURIComponent(row.database)}${search}`}
        tabIndex={-1}
      >
        {row.name}
      </Link>{" "}
      <span className="text-muted">{row.policy ?? "no policy"}</span>
    </span>
  );
}

function when({ gap, zone }: GapRow): string {
  if (gap.after && gap.before) return span(gap.after, gap.before, zone);
  if (gap.after && gap.state === "open") return `since ${moment(gap.after, zone)}`;
  if (gap.after) return `from ${moment(gap.after, zone)}`;
  return gap.before ? `until ${moment(gap.before, zone)}` : "nobody knows when";
}
