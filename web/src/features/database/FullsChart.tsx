import type { DataBackup, DatabaseView } from "../../api/types";
import { scale } from "../../ribbon/geometry";
import { moment } from "../../time/words";

const HEIGHT = 84;
const BASE = 54;

/** Fulls and what hangs from them: arcs from each backup to its parent, hollow where no rule needs it any more. */
export function FullsChart({ data, width, labels }: { data: DatabaseView; width: number; labels: number }) {
  const x = scale(data.from, data.to, width);
  const shown = data.dataBackups.filter((b) => Date.parse(b.at) >= Date.parse(data.from));
  const byId = new Map(data.dataBackups.map((b) => [b.id, b]));
  if (data.dataBackups.length === 0) {
    return (
      <>
        <h2 className="mt-3 text-section">Fulls and what hangs from them</h2>
        <p className="text-muted">No data backup is left in any store.</p>
      </>
    );
  }
  return (
    <>
      <h2 className="mt-3 text-section">Fulls and what hangs from them</h2>
      <svg
        width={width + labels}
        height={HEIGHT}
        role="img"
        aria-label={fullsText(data.dataBackups)}
        className="block"
      >
        <line x1={labels} x2={labels + width} y1={BASE - 6} y2={BASE - 6} stroke="var(--line)" />
        {shown.map((b) => {
          const parent = b.parent ? byId.get(b.parent) : undefined;
          if (!parent) return null;
          const from = Math.max(0, x(parent.at));
          const to = x(b.at);
          const rise = Math.min(32, 10 + (to - from) / 5);
          return (
            <path
              key={b.id}
              d={`M${labels + from} ${BASE - 18}C${labels + from} ${BASE - 18 - rise},${labels + to} ${BASE - 18 - rise},${labels + to} ${BASE - 14}`}
              fill="none"
              stroke="var(--ink)"
              opacity={b.verdict === "needed" ? 0.5 : 0.18}
            />
          );
        })}
        {shown.map((b) => (
          <Pile key={b.id} backup={b} x={labels + x(b.at)} zone={data.row.zone} />
        ))}
        {shown
          .filter((b) => b.note)
          .map((b, i) => {
            const at = labels + x(b.at);
            const late = at > labels + width - 130;
            return (
              <text
                key={b.id}
                x={late ? at + 3 : at - 2}
                y={HEIGHT - 14 + (i % 2) * 12}
                textAnchor={late ? "end" : "start"}
                fontSize={11}
                fill="var(--muted)"
              >
                {b.note}
              </text>
            );
          })}
      </svg>
    </>
  );
}

function Pile({ backup, x, zone }: { backup: DataBackup; x: number; zone: string }) {
  const full = backup.kind === "full";
  const height = full ? 28 : backup.kind === "diff" ? 16 : 11;
  const wide = full ? 6 : 3;
  const needed = backup.verdict === "needed";
  const colour = backup.locked && !needed ? "var(--violet)" : "var(--ink)";
  return (
    <g>
      <rect
        x={x - wide / 2}
        y={BASE - 6 - height / 2}
        width={wide}
        height={height}
        rx={wide / 2}
        fill={needed ? colour : "var(--panel)"}
        stroke={colour}
        strokeWidth={needed ? 0 : 1.3}
        strokeDasharray={backup.verdict === "unusable" ? "2 2" : undefined}
        opacity={full || !needed ? 1 : 0.6}
      />
      <title>{`${backup.id}, ${moment(backup.at, zone)}: ${backup.verdict}${backup.note ? `, ${backup.note}` : ""}`}</title>
    </g>
  );
}

function fullsText(all: DataBackup[]): string {
  const fulls = all.filter((b) => b.kind === "full");
  const needed = fulls.filter((b) => b.verdict === "needed").length;
  return `${fulls.length} fulls, ${needed} of them needed; ${all.length - fulls.length} differentials and incrementals hang from them`;
}
