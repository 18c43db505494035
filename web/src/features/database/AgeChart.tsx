import { scaleLog, type ScaleLogarithmic } from "d3-scale";
import type { DatabaseView, Schemas } from "../../api/types";
import { scale, type Scale } from "../../ribbon/geometry";
import { day, duration, moment, promise } from "../../time/words";
import { useAskWhy } from "../../why/context";

const HEIGHT = 140;
const STEPS = [60, 600, 3600, 4 * 3600, 86400, 3 * 86400, 7 * 86400, 30 * 86400, 90 * 86400];

/** The age of the recovery point over the period, on a logarithmic scale, with the objective and what exceeded it. */
export function AgeChart({ data, width, labels }: { data: DatabaseView; width: number; labels: number }) {
  const ask = useAskWhy();
  const mishap = data.row.hazards.find((h) => h.hazard === "mishap");
  const channel = data.channels.find((c) => c.hazard === "mishap");
  if (!mishap || !channel) return null;
  const objective = mishap.objectiveSeconds;
  const worst = Math.max(60, objective ?? 0, mishap.ageSeconds, ...data.ages.map((a) => a.worstSeconds));
  const lowest = Math.max(30, Math.min(objective ?? 3600, worst) / 6);
  const y = scaleLog()
    .domain([lowest, worst * 1.4])
    .range([HEIGHT, 8])
    .clamp(true);
  const x = scale(data.from, data.to, width);
  const subject = { database: data.row.id, about: "age" } as const;
  const zone = data.row.zone;
  const breaches = [...channel.breaches].sort((a, b) => b.worstSeconds - a.worstSeconds).slice(0, 3);
  return (
    <>
      <div className="mt-4 flex items-baseline gap-3">
        <h2 className="text-section">Age of the recovery point</h2>
        <button
          className="text-button"
          data-why={JSON.stringify({ subject, zone })}
          onClick={() => ask(subject, zone)}
        >
          Why?
        </button>
      </div>
      <svg
        width={width + labels}
        height={HEIGHT + 20}
        role="img"
        aria-label={ageText(data)}
        className="block"
      >
        {STEPS.filter((s) => s > lowest && s < worst * 1.3).map((s) => (
          <g key={s}>
            <line x1={labels} x2={labels + width} y1={y(s)} y2={y(s)} stroke="var(--line)" />
            {(objective === null || Math.abs(y(s) - y(objective)) > 13) && (
              <text x={labels - 8} y={y(s) + 4} textAnchor="end" fontSize={12} fill="var(--muted)">
                {promise(s)}
              </text>
            )}
          </g>
        ))}
        {data.ages.map((a) => (
          <AgeArea
            key={a.from}
            x={x}
            a={a}
            objective={objective}
            y={y}
            lowest={lowest}
            labels={labels}
            zone={zone}
          />
        ))}
        <line x1={labels} x2={labels + width} y1={HEIGHT} y2={HEIGHT} stroke="var(--line)" />
        {objective !== null && (
          <>
            <line
              x1={labels}
              x2={labels + width}
              y1={y(objective)}
              y2={y(objective)}
              stroke="var(--violet)"
              strokeDasharray="5 3"
            />
            <text x={labels - 8} y={y(objective) + 4} textAnchor="end" fontSize={12} fill="var(--violet)">
              {promise(objective)}
            </text>
          </>
        )}
        {breaches.map((b) => (
          <BreachMark key={b.from} x={x} b={b} data={data} width={width} labels={labels} y={y} zone={zone} />
        ))}
      </svg>
    </>
  );
}

/** One stretch of ages, from the least to the most. */
function AgeArea(props: {
  x: Scale;
  a: Schemas["AgeSlice"];
  objective: number | null;
  y: ScaleLogarithmic<number, number>;
  lowest: number;
  labels: number;
  zone: string;
}) {
  const { x, a, objective, y, lowest, labels, zone } = props;

  const left = x(a.from);
  const broken = objective !== null && a.worstSeconds > objective;
  const top = y(Math.max(lowest, a.worstSeconds));
  const wide = Math.max(0.6, x(a.to) - left - (broken ? -0.5 : 0.6));
  return (
    <rect
      x={labels + left}
      y={top}
      width={wide}
      height={HEIGHT - top}
      fill={broken ? "var(--coral)" : "var(--water-2)"}
    >
      <title>{`up to ${duration(a.worstSeconds)}, ${moment(a.from, zone)}`}</title>
    </rect>
  );
}

function BreachMark(props: {
  x: Scale;
  b: Schemas["BreachView"];
  data: DatabaseView;
  width: number;
  labels: number;
  y: ScaleLogarithmic<number, number>;
  zone: string;
}) {
  const { x, b, data, width, labels, y, zone } = props;

  const end = x(b.to);
  const open = Date.parse(b.to) >= Date.parse(data.asOf);
  const left = end > width / 2;
  return (
    <text
      x={labels + Math.min(width, Math.max(0, left ? x(b.from) - 5 : end + 5))}
      y={Math.max(14, y(b.worstSeconds) + 6)}
      textAnchor={left ? "end" : "start"}
      fontSize={12}
      fontWeight={600}
      fill="var(--coral-text)"
      stroke="var(--paper)"
      strokeWidth={4}
      paintOrder="stroke"
    >
      {open ? `${duration(b.worstSeconds)} and growing` : `${day(b.from, zone)}, ${duration(b.worstSeconds)}`}
    </text>
  );
}

function ageText(data: DatabaseView): string {
  const channel = data.channels.find((c) => c.hazard === "mishap");
  const worst = duration(channel?.maxSeconds ?? 0);
  const count = channel?.breaches.length ?? 0;
  return `at worst ${worst} over the period, ${count} ${count === 1 ? "breach" : "breaches"} of the objective`;
}
