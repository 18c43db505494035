import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { WeekBar, WeekView } from "../../api/types";
import { useSoon, useWeek } from "./api";
import { RibbonPatterns } from "../../ribbon/Ribbon";
import { count, date, duration, longMoment, viewerZone } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { useWidth } from "../../ui/useWidth";
import type { Band } from "./LoadBands";
import { NightRow } from "./NightRow";
import { SlotsPanel } from "./SlotsPanel";
import { nights, ticks } from "./nights";
import { TryPanel, type Trial } from "./TryPanel";

const LABEL = 72;
/** So many runs that will miss their windows are told of. */
const MISSES = 12;

/** A week of nights to come: what runs when, how long it usually takes, and where it will not fit. */
export function WeekPage() {
  const [params, setParams] = useSearchParams();
  const from = params.get("from") ?? "";
  const by = params.get("week") ?? "";
  const week = useWeek(from, by);
  useEffect(() => {
    document.title = "Week · Firth";
  }, []);
  const set = (name: string, value: string) =>
    setParams((before) => {
      const next = new URLSearchParams(before);
      if (value) next.set(name, value);
      else next.delete(name);
      return next;
    });
  if (week.error) return <ProblemNote error={week.error} />;
  if (!week.data) return <main className="px-5 py-6 text-muted">…</main>;
  return <Week week={week.data} onChoose={(id) => set("week", id)} onFrom={(day) => set("from", day)} />;
}

function Week(props: { week: WeekView; onChoose: (id: string) => void; onFrom: (day: string) => void }) {
  const { week } = props;
  const [box, width] = useWidth<HTMLDivElement>();
  const [trial, setTrial] = useState<Trial | null>(null);
  const [pointed, setPointed] = useState<Band | null>(null);
  const soon = useSoon();
  const all = nights(week.from, week.to, week.zone);
  const room = Math.max(300, width - LABEL);
  const first = all[0];
  const shift = (days: number) => {
    const at = new Date(Date.parse(week.from) + days * 86_400_000);
    props.onFrom(new Intl.DateTimeFormat("sv-SE", { timeZone: week.zone }).format(at));
  };
  const names = new Set(week.bars.map((b) => b.name));
  const own = (soon.data?.misses ?? []).filter((m) => week.bands.length > 0 || names.has(m.database));
  const misses = own.slice(0, MISSES);
  return (
    <main className="px-5 pt-4 pb-10">
      <RibbonPatterns />
      <WeekHead week={week} shift={shift} onChoose={props.onChoose} />
      <Notes week={week} misses={misses} />
      <div ref={box} className="mt-2" data-testid="week">
        {first && (
          <svg width={LABEL + room} height={16} aria-hidden className="block">
            {ticks(first).map((t, i, all) => (
              <text
                key={t}
                x={LABEL + ((t - first.from) / (first.to - first.from)) * room}
                y={11}
                fontSize={11}
                textAnchor={i + 1 === all.length ? "end" : "middle"}
                fill="var(--muted)"
              >
                {new Intl.DateTimeFormat("en-GB", {
                  timeZone: week.zone,
                  hour: "2-digit",
                  minute: "2-digit",
                }).format(t)}
              </text>
            ))}
          </svg>
        )}
        {all.map((night) => (
          <NightRow
            key={night.from}
            night={night}
            week={week}
            label={LABEL}
            width={room}
            misses={misses}
            onTry={setTrial}
            onPoint={setPointed}
          />
        ))}
      </div>
      <p className="mt-2 text-note text-muted">
        {week.bands.length > 0
          ? `${count(week.slots)} slots are too many to be told apart: the taller, the more of them run at a time if all goes as usual. Pale green: open hours. Dashed: more at once than the store has shown it takes. Choose a band for its slots.`
          : `Pale green: open hours. Outlined: the start window. Filled: the usual length, fulls dark; thin line: the longest of the last eight. Dashed: switched off. Drag a bar, or the end of its window, to try another time; with the keyboard the arrow keys, with Shift for the window, then Enter.`}
      </p>
      {week.slots === 0 && <p className="mt-3">Nothing is scheduled in this week.</p>}
      {pointed && (
        <SlotsPanel by={week.chosen} band={pointed} zone={week.zone} onClose={() => setPointed(null)} />
      )}
      {trial && <TryPanel trial={trial} onClose={() => setTrial(null)} />}
    </main>
  );
}

function WeekHead(props: { week: WeekView; shift: (days: number) => void; onChoose: (id: string) => void }) {
  const { week, shift, onChoose } = props;
  return (
    <div className="flex flex-wrap items-baseline gap-x-3">
      <h1 className="text-page">Week</h1>
      <p className="text-muted">
        a row is a night, noon to noon, in {week.zone} · expected lengths from the last eight runs of that
        kind and weekday
      </p>
      <span className="ml-auto flex items-baseline gap-3">
        <button className="text-button" onClick={() => shift(-7)}>
          Week before
        </button>
        <button className="text-button" onClick={() => shift(7)}>
          Week after
        </button>
        <label className="flex items-center gap-1.5 text-muted">
          of
          <select
            className="rounded border border-line bg-panel px-1.5 py-0.5 text-ink"
            value={week.chosen}
            onChange={(e) => onChoose(e.target.value)}
          >
            {week.choices.map((c) => (
              <option key={c.by + c.id} value={`${c.by}:${c.id}`}>
                {c.by === "all" ? c.name : `${c.by} ${c.name}`}
              </option>
            ))}
          </select>
        </label>
      </span>
    </div>
  );
}

type Misses = { database: string; schedule: string; open: string; expectedSeconds: number }[];

function Notes({ week, misses }: { week: WeekView; misses: Misses }) {
  const off = week.bars.filter((b) => b.state === "off");
  const late = week.bars.filter((b) => b.overrunSeconds > 0 && b.state === "planned");
  return (
    <ul className="mt-1" data-testid="week-notes">
      {week.unserved.map((u) => (
        <li key={u.database + (u.schedule ?? "")} className="text-coral-text">
          Nobody starts {u.schedule ? `the ${u.schedule} run` : "the runs"} of{" "}
          <Link className="font-semibold underline" to={`/fleet/${encodeURIComponent(u.database)}/readiness`}>
            {u.name}
          </Link>
          :{" "}
          {u.why ??
            `${u.missed} were due since ${longMoment(u.since ?? week.from, week.zone)} and none was tried.`}
        </li>
      ))}
      {week.unservedAll > week.unserved.length && (
        <li className="text-coral-text">
          Nor those of {count(week.unservedAll - week.unserved.length)} more.
        </li>
      )}
      {week.collisions.map((c, i) => (
        <li key={i} className="text-coral-text">
          {count(c.together)} at once on {c.storeName}, {longMoment(c.from, week.zone)}:{" "}
          {Math.round(c.bytesPerSecond / 1e6)} of the {Math.round(c.shownBytesPerSecond / 1e6)} MB/s it has
          shown ({c.databases.join(", ")}
          {c.together > c.databases.length && ` and ${count(c.together - c.databases.length)} more`}).
        </li>
      ))}
      {late.map((b) => (
        <li key={b.database + b.open} className="text-ochre-text">
          The {b.schedule} run of {b.name} on {longMoment(b.open, week.zone)} usually ends{" "}
          {duration(b.overrunSeconds)} after its window.
        </li>
      ))}
      {misses.map((m) => (
        <li key={m.database + m.schedule} className="text-ochre-text">
          The {m.schedule} run of {m.database} misses its window from {date(m.open, viewerZone)} on, at its
          present growth: it will take {duration(m.expectedSeconds)}.
        </li>
      ))}
      {off.length > 0 && (
        <li className="text-muted">
          Switched off, so nothing runs:{" "}
          {[...new Set(off.map((b: WeekBar) => `${b.schedule} of ${b.policy}`))].join(", ")}.
        </li>
      )}
    </ul>
  );
}
