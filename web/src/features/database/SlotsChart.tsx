import type { DatabaseView, Schemas } from "../../api/types";
import { duration, longMoment, moment } from "../../time/words";
import type { Subject } from "../../why/api";
import { useAskWhy } from "../../why/context";
import { slotBars, slotTally } from "./slots";

const HEIGHT = 34;
const MOST = 32;

/** Runs against slots: a frame for each start window, in it how long its runs ran from its opening on. */
export function SlotsChart({ data, width, labels }: { data: DatabaseView; width: number; labels: number }) {
  const begun = data.slots.filter((s) => Date.parse(s.open) <= Date.parse(data.asOf));
  const shown = begun.slice(-MOST);
  const zone = data.row.zone;
  const ask = useAskWhy();
  const each = Math.min(26, width / Math.max(1, shown.length));
  return (
    <section aria-label="Runs against slots" data-testid="slots">
      <h2 className="mt-3 text-section">Runs against slots</h2>
      {shown.length === 0 ? (
        <p className="text-muted">No policy asked for a run at a time of day in this period.</p>
      ) : (
        <svg
          width={width + labels}
          height={HEIGHT + 4}
          role="group"
          aria-label={slotTally(begun)}
          className="block"
        >
          {shown.map((s, i) => (
            <SlotMark
              key={`${s.schedule}${s.open}`}
              labels={labels}
              i={i}
              each={each}
              s={s}
              data={data}
              zone={zone}
              ask={ask}
            />
          ))}
        </svg>
      )}
      <p className="text-note text-muted">
        {shown.length > 0 &&
          `${slotTally(begun)}${begun.length > shown.length ? `; the newest ${shown.length} are drawn` : ""}. `}
      </p>
      <Cadence data={data} />
    </section>
  );
}

function SlotMark(props: {
  labels: number;
  i: number;
  each: number;
  s: Schemas["SlotView"];
  data: DatabaseView;
  zone: string;
  ask: (subject: Subject, zone: string) => void;
}) {
  const { labels, i, each, s, data, zone, ask } = props;

  const x = labels + i * each;
  const failed = s.verdict === "failed" || s.verdict === "retrying";
  const quiet = s.verdict === "superseded" || s.verdict === "excused";
  const subject = {
    database: data.row.id,
    about: "slot",
    schedule: s.schedule,
    at: s.open,
  } as const;
  const text =
    `${s.schedule}, ${longMoment(s.open, zone)} to ${moment(s.close, zone)}: ${s.verdict}` +
    (s.spillSeconds > 0 ? `, ${duration(s.spillSeconds)} outside the open hours` : "");
  const open = () => ask(subject, zone);
  return (
    <g
      data-verdict={s.verdict}
      role="button"
      tabIndex={0}
      className="cursor-pointer"
      aria-label={`${text}. Why?`}
      data-why={JSON.stringify({ subject, zone })}
      onClick={open}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          open();
        }
      }}
    >
      <rect
        x={x + 1}
        y={2}
        width={each - 4}
        height={HEIGHT - 2}
        rx={3}
        fill="var(--panel)"
        stroke={s.verdict === "missed" ? "var(--coral)" : "var(--line)"}
        strokeDasharray={s.verdict === "missed" ? "3 2" : undefined}
        opacity={quiet ? 0.5 : 1}
      />
      {slotBars(s, data.asOf, HEIGHT - 6).map((b) => (
        <rect
          key={b.id}
          x={x + 4}
          y={4 + b.top}
          width={Math.max(2, each - 10)}
          height={b.height}
          rx={1}
          fill={s.kind === "full" ? "var(--ink)" : "var(--water-2)"}
        />
      ))}
      {failed && (
        <circle
          cx={x + each / 2 - 1}
          cy={HEIGHT / 2 + 1}
          r={6}
          fill="none"
          stroke="var(--coral)"
          strokeWidth={2}
          strokeDasharray="5 3"
        />
      )}
      <title>{text}</title>
    </g>
  );
}

const LISTED = 4;

/** Where logs came too far apart: the worst few, each with its why. */
function Cadence({ data }: { data: DatabaseView }) {
  const ask = useAskWhy();
  const zone = data.row.zone;
  if (data.cadence.length === 0) return null;
  const missed = data.cadence.reduce((sum, c) => sum + c.missed, 0);
  const worst = [...data.cadence].sort((a, b) => b.missed - a.missed).slice(0, LISTED);
  return (
    <div className="mt-1 text-note" data-testid="cadence">
      <p className="text-muted">
        Logs came too far apart {data.cadence.length === 1 ? "once" : `${data.cadence.length} times`},{" "}
        {missed} {missed === 1 ? "landing was" : "landings were"} missed
        {data.cadence.length > worst.length ? "; the worst:" : ":"}
      </p>
      <ul>
        {worst.map((c) => {
          const subject = {
            database: data.row.id,
            about: "cadence",
            schedule: c.schedule,
            stream: c.stream,
            at: c.from,
          } as const;
          return (
            <li key={`${c.schedule}${c.stream}${c.from}`}>
              {data.streams.length > 1 && <>stream {c.stream}, </>}
              {longMoment(c.from, zone)} {c.to ? `to ${longMoment(c.to, zone)}` : "until now"}: {c.missed}{" "}
              missed{" "}
              <button
                className="text-button"
                data-why={JSON.stringify({ subject, zone })}
                onClick={() => ask(subject, zone)}
              >
                Why?
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
