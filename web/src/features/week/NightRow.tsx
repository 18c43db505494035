import { useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import type { Schemas, WeekView } from "../../api/types";
import { day, duration, longMoment } from "../../time/words";
import { place, ticks, within, type Night, type Placed } from "./nights";
import { LoadBands, type Band } from "./LoadBands";
import type { Trial } from "./TryPanel";

/** A lane is lower where there are many, so that a week stays in sight. */
const laneOf = (lanes: number) => (lanes > 8 ? 12 : 15);
const LEAST = 40;
const STEP = 15 * 60_000;

type Props = {
  night: Night;
  week: WeekView;
  label: number;
  width: number;
  misses: { database: string; schedule: string }[];
  onTry: (trial: Trial) => void;
  onPoint: (band: Band) => void;
};

/** One night: open hours and closures behind, a bar a slot in front, or how many there are at a time where they are many. */
export function NightRow({ night, week, label, width, misses, onTry, onPoint }: Props) {
  const { placed, lanes } = place(week.bars, night, width);
  const lane = laneOf(lanes);
  const height = Math.max(LEAST, lanes * lane + 8);
  const x = (at: number) => label + ((at - night.from) / (night.to - night.from)) * width;
  const perMs = width / (night.to - night.from);
  const date = new Date(night.from);
  const weekday = new Intl.DateTimeFormat("en-GB", { timeZone: week.zone, weekday: "short" }).format(date);
  const midnight = night.from + 12 * 3_600_000;
  return (
    <svg
      width={label + width}
      height={height + 4}
      className="block"
      role="group"
      aria-label={`Night of ${weekday} ${day(date, week.zone)}`}
    >
      <text x={0} y={16} fontSize={14} fontWeight={600} fill="var(--ink)">
        {weekday}
      </text>
      <text x={0} y={32} fontSize={12} fill="var(--muted)">
        {day(date, week.zone)}
      </text>
      <rect x={label} y={0} width={width} height={height} fill="var(--sand)" fillOpacity={0.55} />
      {week.open.map((o, i) => (
        <Part key={i} band={o} night={night} x={x} draw={openHours(o, height)} />
      ))}
      {ticks(night).map((t) => (
        <line key={t} x1={x(t)} x2={x(t)} y1={0} y2={height} stroke="var(--line)" />
      ))}
      <line
        x1={x(midnight)}
        x2={x(midnight)}
        y1={0}
        y2={height}
        stroke="var(--muted)"
        strokeDasharray="2 3"
      />
      {week.closures.map((c, i) => (
        <Part key={i} band={c} night={night} x={x} draw={closure(c, height)} />
      ))}
      {week.collisions.map((c, i) => (
        <Part key={i} band={c} night={night} x={x} draw={collision(height)} />
      ))}
      <LoadBands week={week} night={night} height={height} x={x} onPoint={onPoint} />
      {placed.map((p) => (
        <Bar
          key={p.bar.database + p.bar.schedule + p.bar.open}
          placed={p}
          lane={lane}
          x={x}
          perMs={perMs}
          zone={week.zone}
          missesSoon={misses.some((m) => m.database === p.bar.name && m.schedule === p.bar.schedule)}
          onTry={onTry}
        />
      ))}
    </svg>
  );
}

/** What of a band falls into a night, drawn from its left edge over its width; nothing where none does. */
function Part(props: {
  band: { from: string; to: string };
  night: Night;
  x: (at: number) => number;
  draw: (left: number, width: number) => ReactNode;
}) {
  const { band, night, x, draw } = props;
  const part = within(band.from, band.to, night);
  return part && draw(x(part.from), x(part.to) - x(part.from));
}

const openHours = (band: Schemas["HoursBand"], height: number) => (left: number, width: number) => (
  <rect x={left} y={0} width={width} height={height} fill="var(--open)" fillOpacity={0.75}>
    <title>{band.what}</title>
  </rect>
);

const closure = (band: Schemas["HoursBand"], height: number) => (left: number, width: number) => (
  <>
    <rect x={left} y={0} width={width} height={height} fill="url(#hatch)" />
    <text x={left + 4} y={height - 6} fontSize={12} fill="var(--ink)">
      closure: {band.what}
    </text>
  </>
);

const collision = (height: number) => (left: number, width: number) => (
  <rect
    x={left - 2}
    y={1}
    width={Math.max(6, width + 4)}
    height={height - 2}
    rx={4}
    fill="none"
    stroke="var(--coral)"
    strokeDasharray="4 3"
  />
);

type Moved = { shift: number; window: number };
const STILL: Moved = { shift: 0, window: 0 };

type BarProps = {
  placed: Placed;
  lane: number;
  x: (at: number) => number;
  perMs: number;
  zone: string;
  missesSoon: boolean;
  onTry: (trial: Trial) => void;
};

/** A slot as a bar that can be moved, or its window made longer, to try another time. */
function Bar(props: BarProps) {
  const { placed, lane, x, perMs, zone } = props;
  const { bar } = placed;
  const { moved, handlers } = useMoving(bar, perMs, props.onTry);
  const idle = bar.state !== "planned";
  const y = 4 + placed.lane * lane;
  const from = placed.from + moved.shift;
  const close = Date.parse(bar.close) + moved.shift + moved.window;
  const text = barWords(bar, from, close, zone);
  return (
    <g
      tabIndex={0}
      role="button"
      aria-label={text}
      data-bar={`${bar.name} ${bar.schedule}`}
      className="cursor-grab"
      opacity={idle && bar.state !== "off" ? 0.45 : 1}
      {...handlers}
    >
      <title>{text}</title>
      <text
        x={x(from) - 6}
        y={y + lane - 4}
        fontSize={lane < 15 ? 10.5 : 11.5}
        textAnchor="end"
        fill="var(--ink)"
      >
        {bar.name}
      </text>
      <BarShape {...props} y={y} from={from} close={close} />
      <rect
        data-edge=""
        x={x(close) - 3}
        y={y}
        width={6}
        height={lane - 3}
        fill="transparent"
        className="cursor-ew-resize"
      />
    </g>
  );
}

function barWords(bar: Schemas["SlotBar"], from: number, close: number, zone: string): string {
  const usually = bar.medianSeconds === null ? "" : `, usually ${duration(bar.medianSeconds)}`;
  const longest = bar.longestSeconds === null ? "" : `, at the longest ${duration(bar.longestSeconds)}`;
  const state = bar.state === "planned" ? "" : `, ${bar.state}`;
  return `${bar.name}: a ${bar.kind} from ${longMoment(from, zone)}${usually}${longest}, to start by ${longMoment(close, zone)}${state}`;
}

/** How far a bar has been moved, by pointer or keys, and what moves it; let go or entered, that is tried. */
function useMoving(bar: Schemas["SlotBar"], perMs: number, onTry: (trial: Trial) => void) {
  const [moved, setMoved] = useState<Moved>(STILL);
  const grip = useRef<{ at: number; edge: boolean } | null>(null);
  const least = -(Date.parse(bar.close) - Date.parse(bar.open)) + STEP;
  const finish = () => {
    if (moved.shift === 0 && moved.window === 0) return;
    onTry({ bar, shiftMinutes: moved.shift / 60_000, windowMinutes: moved.window / 60_000 });
    setMoved(STILL);
  };
  const handlers = {
    onPointerDown: (e: PointerEvent<SVGGElement>) => {
      if (bar.state === "superseded") return;
      const edge = (e.target as Element).getAttribute("data-edge") !== null;
      grip.current = { at: e.clientX, edge };
      e.currentTarget.setPointerCapture(e.pointerId);
    },
    onPointerMove: (e: PointerEvent<SVGGElement>) => {
      if (!grip.current) return;
      const by = Math.round((e.clientX - grip.current.at) / perMs / STEP) * STEP;
      setMoved(grip.current.edge ? { shift: 0, window: Math.max(least, by) } : { shift: by, window: 0 });
    },
    onPointerUp: () => {
      if (!grip.current) return;
      grip.current = null;
      finish();
    },
    onKeyDown: (e: KeyboardEvent<SVGGElement>) => {
      const by = e.key === "ArrowRight" ? STEP : e.key === "ArrowLeft" ? -STEP : 0;
      if (by !== 0) {
        e.preventDefault();
        setMoved((m) =>
          e.shiftKey ? { ...m, window: Math.max(least, m.window + by) } : { ...m, shift: m.shift + by },
        );
      }
      if (e.key === "Enter") finish();
      if (e.key === "Escape") setMoved(STILL);
    },
  };
  return { moved, handlers };
}

/** Outlined the window, filled how long it usually takes, a line as far as the longest. */
function BarShape(props: BarProps & { y: number; from: number; close: number }) {
  const { placed, lane, x, perMs, y, from, close } = props;
  const { bar } = placed;
  const tooLong = bar.overrunSeconds > 0 || props.missesSoon;
  return (
    <>
      <rect
        x={x(from)}
        y={y}
        width={Math.max(4, (close - from) * perMs)}
        height={lane - 3}
        rx={3}
        fill="var(--panel)"
        fillOpacity={0.35}
        stroke={tooLong ? "var(--ochre)" : "var(--hatch)"}
        strokeWidth={tooLong ? 1.5 : 1}
        strokeDasharray={bar.state === "off" ? "3 3" : undefined}
      />
      {bar.state !== "off" && bar.longestSeconds !== null && (
        <line
          x1={x(from)}
          x2={x(from) + bar.longestSeconds * 1000 * perMs}
          y1={y + lane / 2 - 1.5}
          y2={y + lane / 2 - 1.5}
          stroke="var(--muted)"
        />
      )}
      {bar.state !== "off" && (
        <rect
          x={x(from)}
          y={y + 1.5}
          width={Math.max(4, (placed.to - placed.from) * perMs)}
          height={lane - 6}
          rx={2}
          fill={bar.kind === "full" ? "var(--ink)" : "var(--water-2)"}
        />
      )}
    </>
  );
}
