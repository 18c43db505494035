import type { Watch } from "../../api/types";
import { duration, time } from "../../time/words";
import { logsLine } from "./Aside";
import { kindName } from "../../ribbon/kinds";

const WIDTH = 378;
const ROW = 15;
const SHOWN = 14;
const HOURS = 12;

const FILL: Record<string, string> = { full: "var(--ink)", config: "var(--muted)" };

/** The slots to come, each as long as its kind usually takes. */
export function NextHours({ watch }: { watch: Watch }) {
  const from = new Date(watch.asOf).getTime();
  const at = (ms: number) => ((ms - from) / (HOURS * 3_600_000)) * WIDTH;
  const shown = watch.next.slice(0, SHOWN);
  const more = watch.nextCount - shown.length;
  const first = Math.ceil(from / (3 * 3_600_000)) * 3 * 3_600_000;
  const ticks = [0, 1, 2, 3].map((i) => first + i * 3 * 3_600_000).filter((t) => at(t) < WIDTH - 20);
  return (
    <>
      {shown.length === 0 ? (
        <p className="mt-1 text-muted">No slot opens.</p>
      ) : (
        <svg
          width={WIDTH}
          height={shown.length * ROW + 18}
          role="img"
          aria-label={`${watch.nextCount} slots: ${shown.map((n) => `${n.name} ${kindName(n.kind)} ${time(n.open, watch.zone)}`).join(", ")}`}
          className="mt-1 block max-w-full"
        >
          {ticks.map((t) => (
            <g key={t}>
              <line x1={at(t)} x2={at(t)} y1={16} y2={shown.length * ROW + 18} stroke="var(--line)" />
              <text x={at(t) + 2} y={11} fontSize={11} fill="var(--muted)">
                {time(t, watch.zone)}
              </text>
            </g>
          ))}
          {shown.map((n, i) => {
            const open = new Date(n.open).getTime();
            const x = Math.max(0, at(open));
            const width = Math.max(5, at(open + (n.seconds ?? 600) * 1000) - at(open));
            const label = `${n.name} ${kindName(n.kind)}`;
            const before = x > 190;
            return (
              <g key={`${n.database}${n.kind}${n.open}`}>
                <title>
                  {`${label}, may start ${time(n.open, watch.zone)} to ${time(n.close, watch.zone)}${n.seconds ? `, usually takes ${duration(n.seconds)}` : ""}`}
                </title>
                <rect
                  x={Math.min(x, WIDTH - 5)}
                  y={18 + i * ROW}
                  width={Math.min(width, WIDTH - x)}
                  height={ROW - 4}
                  rx={2}
                  fill={FILL[n.kind] ?? "var(--water-2)"}
                />
                <text
                  x={before ? x - 4 : x + width + 4}
                  y={18 + i * ROW + 9}
                  fontSize={11}
                  textAnchor={before ? "end" : "start"}
                  fill="var(--ink)"
                >
                  {label}
                </text>
              </g>
            );
          })}
        </svg>
      )}
      <p className="mt-1 text-note text-muted">
        {more > 0 && `and ${more} more slots; `}
        {logsLine(watch.logs)}
        {`. Times in ${watch.zone}.`}
      </p>
    </>
  );
}
