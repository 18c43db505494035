import { useWidth } from "../../ui/useWidth";
import { useEditing } from "./editing";
import { isoSeconds, DAYS, dayName } from "./values";
import { weekly } from "./recurrence";
import type { OpenHoursDocument, ScheduleDocument, WrittenDocument } from "./document";

const LABEL = 44;
const ROW = 26;
const TOP = 18;
const HOURS = [12, 15, 18, 21, 24, 27, 30, 33];

type Bar = { day: number; from: number; window: number; kind: string; takes: number; id: string };

const hoursOf = (time: string) => Number(time.slice(0, 2)) + Number(time.slice(3)) / 60;

/** The windows that open in the night that begins at noon of each day; hours since that day's midnight. */
export function windows(schedules: ScheduleDocument[], takes: Map<string, number>): Bar[] {
  const out: Bar[] = [];
  for (const s of schedules) {
    const plain = weekly(s);
    if (!plain || s.enabled === false) continue;
    const at = hoursOf(plain.time);
    for (const d of plain.days) {
      const day = DAYS.indexOf(d as (typeof DAYS)[number]);
      out.push({
        day: at < 12 ? (day + 6) % 7 : day,
        from: at < 12 ? at + 24 : at,
        window: (isoSeconds(s.within ?? "PT0S") ?? 0) / 3600,
        kind: s.kind ?? "full",
        takes: (takes.get(s.kind ?? "") ?? 0) / 3600,
        id: s.id ?? "",
      });
    }
  }
  return out.sort((a, b) => a.from - b.from);
}

/** Open stretches of the night of each day, likewise; a week without open hours is open throughout. */
export function openStretches(hours: OpenHoursDocument[]): { day: number; from: number; to: number }[] {
  if (hours.length === 0) return DAYS.map((_, day) => ({ day, from: 12, to: 36 }));
  const out: { day: number; from: number; to: number }[] = [];
  for (const h of hours) {
    for (const d of h.days ?? []) {
      const day = DAYS.indexOf(d as (typeof DAYS)[number]);
      const from = hoursOf(h.from ?? "00:00");
      const end = hoursOf(h.to ?? "24:00");
      const to = end <= from ? end + 24 : end;
      if (from < 12) out.push({ day: (day + 6) % 7, from: from + 24, to: Math.min(to, 12) + 24 });
      if (to > 12) out.push({ day, from: Math.max(from, 12), to: Math.min(to, 36) });
      if (to > 36) out.push({ day: (day + 1) % 7, from: 12, to: to - 24 });
    }
  }
  return out;
}

/** A week of nights, noon to noon: open hours, start windows, and how long what starts in them usually takes. */
export function NightsChart({ takes }: { takes: Map<string, number> }) {
  const { document } = useEditing();
  const [box, width] = useWidth<HTMLDivElement>();
  const bars = windows(document.schedules ?? [], takes);
  return (
    <div ref={box}>
      {bars.length > 0 && width > LABEL && <Nights document={document} bars={bars} width={width} />}
    </div>
  );
}

function Nights({ document, bars, width }: { document: WrittenDocument; bars: Bar[]; width: number }) {
  const x = (hour: number) => LABEL + ((hour - 12) / 24) * (width - LABEL);
  const logs = (document.schedules ?? []).some((s) => s.kind === "log" && s.enabled !== false);
  return (
    <div className="mt-1">
      <svg
        width={width}
        height={TOP + 7 * ROW}
        role="img"
        aria-label={`Start windows of a week: ${bars
          .map((b) => `${dayName(DAYS[b.day] as string)} ${clock(b.from)} ${b.kind}`)
          .join(", ")}`}
      >
        {HOURS.map((h) => (
          <text key={h} x={x(h)} y={11} fontSize={11} textAnchor="middle" fill="var(--muted)">
            {String(h % 24).padStart(2, "0")}
          </text>
        ))}
        {DAYS.map((d, i) => (
          <g key={d}>
            <text x={0} y={TOP + i * ROW + 16} fontSize={12} fill="var(--ink)">
              {dayName(d).slice(0, 3)}
            </text>
            <rect x={LABEL} y={TOP + i * ROW + 1} width={width - LABEL} height={ROW - 3} fill="var(--sand)" />
          </g>
        ))}
        {openStretches(document.openHours ?? []).map((o, i) => (
          <rect
            key={i}
            x={x(o.from)}
            y={TOP + o.day * ROW + 1}
            width={Math.max(0, x(o.to) - x(o.from))}
            height={ROW - 3}
            fill="var(--open)"
          />
        ))}
        {logs &&
          DAYS.map((d, i) => (
            <line
              key={d}
              x1={LABEL}
              x2={width}
              y1={TOP + i * ROW + ROW - 3}
              y2={TOP + i * ROW + ROW - 3}
              stroke="var(--water-3)"
              strokeDasharray="2 3"
            />
          ))}
        {bars.map((b, i) => (
          <NightBar key={i} b={b} x={x} />
        ))}
      </svg>
      <p className="text-note text-muted">
        Noon to noon. Outlined: the start window; filled: how long it usually takes at the slowest follower,
        fulls dark{logs ? "; dots: logs" : ""}.
      </p>
    </div>
  );
}

function NightBar(props: { b: Bar; x: (hour: number) => number }) {
  const { b, x } = props;

  const y = TOP + b.day * ROW;
  const end = Math.min(36, b.from + b.takes);
  const late = b.takes > b.window;
  return (
    <g>
      <rect
        x={x(b.from)}
        y={y + 3}
        width={Math.max(3, x(Math.min(36, b.from + b.window)) - x(b.from))}
        height={ROW - 8}
        rx={3}
        fill="var(--panel)"
        fillOpacity={0.6}
        stroke="var(--ink)"
      />
      <rect
        x={x(b.from) + 2}
        y={y + 6}
        width={Math.max(3, x(end) - x(b.from) - 2)}
        height={ROW - 14}
        rx={2}
        fill={late ? "var(--ochre)" : b.kind === "full" ? "var(--ink)" : "var(--water-2)"}
      >
        <title>{`${b.id}: a ${b.kind} from ${clock(b.from)}`}</title>
      </rect>
    </g>
  );
}

const clock = (hour: number) =>
  `${String(Math.floor(hour) % 24).padStart(2, "0")}:${String(Math.round((hour % 1) * 60)).padStart(2, "0")}`;
