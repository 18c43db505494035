import { memo, useRef, useState, type RefObject } from "react";
import { Link } from "react-router";
import type { Cover, HazardNow, Row } from "../../api/types";
import { pieces, scale, type Piece } from "../../ribbon/geometry";
import { gaugeOf, gradeText } from "../../ribbon/grade";
import { Ribbon } from "../../ribbon/Ribbon";
import { duration, moment, promise } from "../../time/words";
import { grown } from "../../time/standing";
import { useView } from "../../time/view";
import { Gauge } from "../../ui/Gauge";
import { whyOf } from "../../why/context";
import { hazardOf, type Hazard } from "./asked";
import { PieceCard } from "./PieceCard";

type Props = {
  row: Row;
  cover: Cover;
  hazard: Hazard;
  width: number;
  narrow: boolean;
  chosen: boolean;
  first: boolean;
  onChoose: (id: string) => void;
  onOpen: (id: string) => void;
  /** Where the page stands by the clock; null where it stands still. */
  standing: number | null;
  /** Since when nobody has told of it, where nobody does. */
  silent: string | undefined;
};

/** One database. While the page is scrolled most rows stay as they are, and are not drawn again. */
export const CoverRow = memo(function CoverRow({
  row,
  cover,
  hazard,
  width,
  narrow,
  chosen,
  first,
  onChoose,
  onOpen,
  standing,
  silent,
}: Props) {
  const { search } = useView();
  const [pointed, setPointed] = useState<Piece | null>(null);
  const [stepped, setStepped] = useState<number | null>(null);
  const leaving = useRef(0);
  const now = hazardOf(row, hazard);
  const all = pieces(row.water, row.sand, scale(cover.from, cover.to, width));
  const shown = pointed ?? (stepped === null ? null : (all[stepped] ?? null));
  const age = now ? grown(now, row.at, standing) : 0;
  const broken = now && now.objectiveSeconds !== null && age > now.objectiveSeconds;

  const point = (piece: Piece | null) => {
    window.clearTimeout(leaving.current);
    if (piece) setPointed(piece);
    else leaving.current = window.setTimeout(() => setPointed(null), 180);
  };
  const step = (by: number) =>
    setStepped((at) =>
      Math.min(all.length - 1, Math.max(0, at === null ? (by > 0 ? 0 : all.length - 1) : at + by)),
    );

  return (
    <tr
      tabIndex={chosen || first ? 0 : -1}
      data-row={row.id}
      data-grade={row.grade}
      {...(chosen ? { "data-chosen": "" } : {})}
      {...whyOf({ database: row.id, about: "grade" }, row.zone)}
      className={`h-[34px] align-middle ${chosen ? "bg-chosen" : ""}`}
      onFocus={() => onChoose(row.id)}
      onBlur={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget)) setStepped(null);
      }}
      onKeyDown={(e) => {
        if (e.key === "ArrowRight") step(1);
        else if (e.key === "ArrowLeft") step(-1);
        else if (e.key === "Escape") setStepped(null);
        else if (e.key === "Enter" && e.target === e.currentTarget) onOpen(row.id);
        else return;
        e.preventDefault();
      }}
    >
      <NameCell row={row} search={search} narrow={narrow} />
      <RibbonCell width={width} row={row} cover={cover} shown={shown} point={point} leaving={leaving} />
      <AgeCell broken={broken} now={now} silent={silent} row={row} standing={standing} age={age} />
      {!narrow && (
        <>
          <td className="text-right whitespace-nowrap text-muted">
            {now?.objectiveSeconds != null ? promise(now.objectiveSeconds) : "–"}
          </td>
          <td
            className={`text-right whitespace-nowrap ${now?.attainment != null && now.attainment < 1 ? "" : "text-muted"}`}
            title="share of the period within the objective"
          >
            {now?.attainment != null ? share(now.attainment) : "–"}
          </td>
        </>
      )}
      <td className="text-right whitespace-nowrap">{reach(row)}</td>
    </tr>
  );
});

/** One that is still asked for. */
export function RowToCome({ id, columns }: { id: string; columns: number }) {
  return (
    <tr data-row={id} aria-busy className="h-[34px] align-middle">
      <td colSpan={columns} className="text-muted">
        {id}
      </td>
    </tr>
  );
}

function NameCell(props: { row: Row; search: string; narrow: boolean }) {
  const { row, search, narrow } = props;
  return (
    <th scope="row" className="text-left font-normal">
      <span className="flex items-center gap-2 pr-3">
        <Gauge grade={gaugeOf(row)} />
        <Link
          to={`/databases/${encodeURIComponent(row.id)}${search}`}
          className="whole truncate font-semibold"
          title={row.name}
          tabIndex={-1}
        >
          {row.name}
        </Link>
        <span
          className={`ml-auto text-note ${narrow ? "sr-only" : ""} ${row.grade === "behind" || row.grade === "stranded" ? "text-coral-text" : "text-muted"}`}
        >
          {gradeText(row)}
        </span>
      </span>
    </th>
  );
}

function RibbonCell(props: {
  width: number;
  row: Row;
  cover: Cover;
  shown: Piece | null;
  point: (piece: Piece | null) => void;
  leaving: RefObject<number>;
}) {
  const { width, row, cover, shown, point, leaving } = props;
  return (
    <td className="relative">
      <div className="relative" style={{ width }}>
        <Ribbon
          water={row.water}
          sand={row.sand}
          marks={row.marks}
          from={cover.from}
          to={cover.to}
          width={width}
          zone={row.zone}
          chosen={shown}
          onPoint={(piece) => point(piece)}
        />
        <ReachLine row={row} cover={cover} width={width} />
        {shown && (
          <PieceCard
            row={row}
            piece={shown}
            width={width}
            onEnter={() => window.clearTimeout(leaving.current)}
            onLeave={() => point(null)}
          />
        )}
      </div>
    </td>
  );
}

function AgeCell(props: {
  broken: boolean | undefined;
  now: HazardNow | undefined;
  silent: string | undefined;
  row: Row;
  standing: number | null;
  age: number;
}) {
  const { broken, now, silent, row, standing, age } = props;
  return (
    <td
      className={`text-right whitespace-nowrap ${broken ? "font-semibold text-coral-text" : ""}`}
      title={
        (now?.recoveryPoint ?? "nothing can be restored") +
        (silent ? `; nothing has been heard of it since ${moment(silent, row.zone)}` : "")
      }
    >
      {silent && standing !== null && now?.recoveryPoint && (
        <span className="block text-fine leading-[10px]">at least </span>
      )}
      {now ? (now.recoveryPoint ? duration(age) : "nothing") : "–"}
    </td>
  );
}

/** Rounded down, so that only what was always kept reads so. */
function share(of: number): string {
  return `${(Math.floor(of * 1000) / 10).toFixed(of === 1 ? 0 : 1)} %`;
}

function reach(row: Row): string {
  if (row.grade === "stranded") return "nothing left";
  if (row.grade === "new") return "nothing yet";
  return row.pointsOnly ? "points only" : duration(row.reachSeconds);
}

function ReachLine({ row, cover, width }: { row: Row; cover: Cover; width: number }) {
  if (!row.reachFrom) return null;
  const x = scale(cover.from, cover.to, width)(row.reachFrom);
  if (x < 0 || x > width) return null;
  return (
    <svg width={9} height={34} className="absolute -top-1" style={{ left: x - 4.5 }}>
      <title>{`promised reach, ${promise(row.reachTargetSeconds ?? 0)}`}</title>
      <line
        x1={4.5}
        x2={4.5}
        y1={0}
        y2={34}
        stroke="var(--violet)"
        strokeDasharray="3 2.5"
        strokeWidth={1.4}
      />
    </svg>
  );
}
