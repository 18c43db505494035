import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Line } from "../../api/types";
import { day, longMoment, moment, size } from "../../time/words";
import { useView } from "../../time/view";
import { useKeys } from "../../ui/useKeys";
import { focusRow, useRows } from "../../ui/useRows";
import { Beside } from "./Beside";
import { KIND_NAMES } from "./filter";
import { KindMark } from "./KindMark";
import { rate, took } from "./say";

const ROW = 30;
const COLUMNS =
  "grid grid-cols-[96px_minmax(100px,0.8fr)_98px_106px_112px_116px_104px_64px_minmax(150px,1.6fr)] items-center gap-x-2.5";

type Props = {
  lines: Line[];
  total: number | null;
  more: boolean;
  fetching: boolean;
  onMore: () => void;
  search: string;
  /** The lines that are unfolded, with what they stand for. */
  opened: Record<string, Line[]>;
  onUnfold: (id: string) => void;
};

/** Lines of history, of which only those in sight are drawn. */
export function HistoryTable(props: Props) {
  const { lines, total, more, fetching, onMore, search, opened, onUnfold } = props;
  const box = useRef<HTMLDivElement>(null);
  const navigate = useNavigate();
  const [chosen, setChosen] = useState(-1);
  const rows = useRows(lines.length + (more ? 1 : 0), () => ROW, box);
  const shown = rows.getVirtualItems();
  const last = shown[shown.length - 1]?.index ?? 0;
  useEffect(() => {
    if (more && !fetching && last >= lines.length - 1) onMore();
  }, [more, fetching, last, lines.length, onMore]);

  const move = (by: number) => {
    const next = Math.min(lines.length - 1, Math.max(0, chosen + by));
    setChosen(next);
    rows.scrollToIndex(next);
    focusRow(box, next);
  };
  useKeys({ j: () => move(1), k: () => move(-1) });

  return (
    <div role="table" aria-label="History" aria-rowcount={total ?? -1} data-testid="history">
      <div role="rowgroup">
        <div
          role="row"
          className={`${COLUMNS} border-b border-line pr-4 pb-1 text-note whitespace-nowrap text-muted`}
        >
          <span role="columnheader">started</span>
          <span role="columnheader">database</span>
          <span role="columnheader">what</span>
          <span role="columnheader" className="text-right">
            took
          </span>
          <span role="columnheader" className="text-right">
            size
          </span>
          <span role="columnheader" className="text-right">
            rate
          </span>
          <span role="columnheader">read, sessions</span>
          <span role="columnheader">slot</span>
          <span role="columnheader">copies, demands, message</span>
        </div>
      </div>
      <div
        ref={box}
        role="rowgroup"
        tabIndex={-1}
        className="h-[calc(100vh-224px)] min-h-[240px] overflow-y-auto"
      >
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {shown.map((item) => {
            const line = lines[item.index];
            const place = { height: ROW, transform: `translateY(${item.start}px)` };
            return line ? (
              <Row
                key={line.key}
                line={line}
                at={item.index}
                chosen={item.index === chosen}
                first={chosen < 0 && item.index === 0}
                style={place}
                search={search}
                unfolded={opened[line.id] !== undefined}
                onUnfold={() => onUnfold(line.id)}
                onChoose={() => setChosen(item.index)}
                onOpen={() =>
                  line.kind !== "drill" && line.kind !== "restore" && void navigate(to(line, search))
                }
              />
            ) : (
              <div key="more" className="absolute inset-x-0 text-muted" style={place}>
                reading on
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

const to = (line: Line, search: string) =>
  `/history/${line.id.split("/").map(encodeURIComponent).join("/")}${search}`;

type RowProps = {
  line: Line;
  at: number;
  chosen: boolean;
  first: boolean;
  style: React.CSSProperties;
  search: string;
  unfolded: boolean;
  onUnfold: () => void;
  onChoose: () => void;
  onOpen: () => void;
};

function Row(props: RowProps) {
  const { line, at, chosen, first, style, search, unfolded, onUnfold, onChoose, onOpen } = props;
  const view = useView();
  const run = line.kind !== "drill" && line.kind !== "restore";
  return (
    <div
      role="row"
      aria-rowindex={at + 2}
      data-at={at}
      data-line={line.id}
      data-outcome={line.outcome}
      tabIndex={chosen || first ? 0 : -1}
      className={`${COLUMNS} absolute inset-x-0 border-b border-line/60 pr-4 whitespace-nowrap ${chosen ? "bg-chosen" : ""}`}
      style={style}
      onFocus={onChoose}
      onKeyDown={(e) => e.key === "Enter" && e.target === e.currentTarget && onOpen()}
    >
      <span
        role="cell"
        title={`${longMoment(line.started, line.zone)} in ${line.zone}, ${line.started}${line.ended ? ` to ${line.ended}` : ""}`}
      >
        {run ? (
          <Link className="text-link hover:underline" to={to(line, search)} tabIndex={-1}>
            {moment(line.started, line.zone)}
          </Link>
        ) : (
          moment(line.started, line.zone)
        )}
      </span>
      <span role="cell" className="whole truncate">
        <Link
          className="font-semibold hover:underline"
          to={`/databases/${encodeURIComponent(line.database)}${view.search}`}
          tabIndex={-1}
        >
          {line.name}
        </Link>
      </span>
      <span role="cell" className="flex items-center gap-1.5 truncate">
        <KindMark kind={line.kind} outcome={line.outcome} />
        {KIND_NAMES[line.kind]}
      </span>
      <span role="cell">
        <Beside figure={line.seconds} say={took} />
      </span>
      <span role="cell">
        <Beside figure={line.bytes} say={size} />
      </span>
      <span role="cell">
        <Beside figure={line.perSecond} say={rate} />
      </span>
      <span role="cell" className="truncate text-muted">
        {line.bytesRead !== null ? size(line.bytesRead) : run ? "–" : ""}
        {line.bytesRead !== null && line.bytes ? ` (${(line.bytesRead / line.bytes.own).toFixed(1)} ×)` : ""}
        {line.parallel !== null ? `, ${line.parallel}` : ""}
      </span>
      <span role="cell" className="truncate" title={line.schedule ?? ""}>
        {line.verdict ?? <span className="text-muted">{line.kind === "log" || !run ? "" : "–"}</span>}
        {line.spillSeconds > 0 && <span className="text-ochre-text"> spill {took(line.spillSeconds)}</span>}
      </span>
      <Last line={line} unfolded={unfolded} onUnfold={onUnfold} />
    </div>
  );
}

/** What went wrong, or else where the copies are and whether it is what is demanded. */
function Last({ line, unfolded, onUnfold }: { line: Line; unfolded: boolean; onUnfold: () => void }) {
  const there = line.places.filter((p) => p.state === "there");
  const lost = line.places.filter((p) => p.state !== "there");
  const copies = line.places.length === 0 ? "" : there.map((p) => p.name).join(", ") || "none left";
  const words = [
    line.message,
    line.uncounted,
    line.broken.length > 0 ? `not ${line.broken.join(", not ")}` : "",
    copies,
    lost.map((p) => `${p.name} ${p.state}`).join(", "),
    line.demanded && line.broken.length === 0 ? "demands met" : "",
  ].filter(Boolean);
  return (
    <span
      role="cell"
      className={`truncate ${line.outcome === "failed" ? "text-coral-text" : line.uncounted || line.broken.length > 0 ? "text-ochre-text" : "text-muted"}`}
      title={words.join("; ")}
    >
      {line.folded && (
        <button
          className="mr-1.5 font-semibold underline decoration-dotted"
          aria-expanded={unfolded}
          title={`${line.folded.runs} runs failed alike since ${moment(line.folded.first, line.zone)}`}
          onClick={onUnfold}
        >
          {line.folded.runs} × since {day(line.folded.first, line.zone)}
        </button>
      )}
      {words.join("; ")}
    </span>
  );
}
