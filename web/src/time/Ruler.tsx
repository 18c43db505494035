import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useEffect, useRef, useState } from "react";
import { scaleUtc, type ScaleTime } from "d3-scale";
import type { Outside } from "../api/types";
import { useStrip } from "../api/cover";
import { useSources } from "../api/sources";
import { useKeys } from "../ui/useKeys";
import { useWidth } from "../ui/useWidth";
import { useStanding } from "./standing";
import { useStep } from "./useStep";
import { useTrail } from "./useTrail";
import { count, day, duration, longMoment, viewerZone } from "./words";
import { isoSecond, useView } from "./view";
import { instantOf, typedOf } from "./typed";
import { MomentField } from "../ui/Typed";

const HOUR = 3_600_000;
const STALE = 3_600;
/** Milliseconds after the last key in which the next one goes on from where it put the flag. */
const SETTLED = 3_000;

/** The one time of the application: as of, period, how new the facts are, and how the fleet did. */
export function Ruler() {
  const view = useView();
  const strip = useStrip(view.params);
  const sources = useSources();
  const standing = useStanding();
  const moving = standing === null ? (strip.data?.asOf ?? null) : new Date(standing).toISOString();
  const asOf = view.asOf ?? moving;
  const back = view.asOf !== null;
  const newest = sources.data?.newest;
  const reporting = sources.data?.reporting ?? true;
  const present = useStrip(back ? { ...view.params, asOf: "" } : view.params);
  const step = useTrail(view, asOf, [...(strip.data?.outside ?? []), ...(present.data?.outside ?? [])]);
  const events = useStep(asOf);
  useKeys({
    "[": () => step(-1),
    "]": () => step(1),
    "{": () => events.step("previous"),
    "}": () => events.step("next"),
  });
  return (
    <section
      aria-label="Time"
      className={`grid grid-cols-[236px_1fr] border-b border-line ${back ? "bg-looking-back" : "bg-panel"}`}
    >
      <div className="border-r border-line px-5 py-2">
        <div className="font-semibold" data-testid="as-of" title={asOf ?? ""}>
          {asOf ? `As of ${longMoment(asOf, viewerZone)}` : "As of …"}
        </div>
        <div className="flex items-center gap-1.5 text-note text-muted">
          {view.days === 1 ? "1 day" : `${view.days} days`} from{" "}
          {strip.data ? day(strip.data.from, viewerZone) : "…"}, {viewerZone}
          <MovePopover asOf={asOf} newest={newest} reporting={reporting} />
        </div>
        <Freshness />
        {!back && (sources.data?.behind ?? 0) > 0 && (
          <div role="status" className="text-note text-ochre-text">
            {count(sources.data?.behind ?? 0)} databases as they were: being worked out
          </div>
        )}
      </div>
      <Strip asOf={asOf} newest={newest ?? asOf} outside={strip.data?.outside ?? []} />
      {!back && !reporting && asOf && newest && <Unreported newest={newest} />}
      {back && asOf && (
        <p role="status" className="col-span-2 border-t border-line bg-violet px-5 py-1 text-panel">
          Looking back: everything below is as it was known, and under the rules in force, on{" "}
          <b>{longMoment(asOf, viewerZone)}</b>
          {newest && Date.parse(newest) > Date.parse(asOf)
            ? `, ${duration((Date.parse(newest) - Date.parse(asOf)) / 1000)} before the newest facts. `
            : ". "}
          <button className="font-semibold underline" onClick={() => view.setAsOf(null)}>
            {reporting ? "Return to now" : "Return to the newest facts"}
          </button>
          <span className="ml-4">
            <button
              className="font-semibold underline"
              title={`What last happened to ${events.whose} before ( { )`}
              onClick={() => events.step("previous")}
            >
              Event before
            </button>{" "}
            <button
              className="ml-1 font-semibold underline"
              title={`What happened next to ${events.whose} ( } )`}
              onClick={() => events.step("next")}
            >
              Event after
            </button>
            {events.text && <span className="ml-2">{events.text}</span>}
          </span>
        </p>
      )}
    </section>
  );
}

/** Where no program ever reported, nobody is silent; that is said across the page, with the way to the present and back. */
function Unreported({ newest }: { newest: string }) {
  const view = useView();
  return (
    <p role="status" className="col-span-2 border-t border-line bg-paper px-5 py-1">
      No program has reported here yet, only files.{" "}
      {view.now ? (
        <>
          Everything is judged as of now, as if nothing had happened since{" "}
          <b>{longMoment(newest, viewerZone)}</b>.{" "}
        </>
      ) : (
        <>
          Everything stands at their newest fact, <b>{longMoment(newest, viewerZone)}</b>, and does not grow
          older.{" "}
        </>
      )}
      <button className="font-semibold underline" onClick={() => view.setNow(!view.now)}>
        {view.now ? "Return to the newest fact" : "Look at it as of now"}
      </button>
    </p>
  );
}

/** How old the newest facts of each source are. */
function Freshness() {
  const { data } = useSources();
  if (!data || data.sources.length === 0) return null;
  const age = (at: string) => (Date.parse(data.now) - Date.parse(at)) / 1000;
  const dated = data.sources.filter((s) => s.newestFact !== null);
  const oldest = data.oldest;
  if (!oldest) return null;
  const stale = age(oldest) > STALE;
  return (
    <Popover className="relative">
      <PopoverButton
        data-testid="freshness"
        className={`text-left text-note underline decoration-dotted ${stale ? "font-semibold text-ochre-text" : "text-muted"}`}
      >
        facts {age(data.newest) < 60 ? "new" : `${duration(age(data.newest))} old`}
        {stale && age(oldest) - age(data.newest) > STALE ? `, some ${duration(age(oldest))}` : ""}
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: "bottom start", gap: 6 }}
        className="z-30 rounded-lg border border-ink bg-panel p-4 shadow-lg"
      >
        <h3 className="text-lead">How new the facts are</h3>
        <table className="mt-2 text-small">
          <thead className="text-left text-muted">
            <tr>
              <th className="pr-6 font-normal">source</th>
              <th className="pr-6 font-normal">newest fact</th>
              <th className="font-normal">last received</th>
            </tr>
          </thead>
          <tbody>
            {dated.map((s) => (
              <tr key={s.name}>
                <td className="pr-6">{s.name}</td>
                <td className="pr-6" title={s.newestFact ?? ""}>
                  {s.newestFact ? `${duration(age(s.newestFact))} ago` : "none"}
                </td>
                <td title={s.received}>{duration(age(s.received))} ago</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="mt-2 max-w-80 text-note text-muted">
          {data.reporting
            ? "The page stands at the clock unless you choose a moment: what nobody has told counts as not having happened, so ages grow while sources are silent."
            : "No program has reported yet, so the page stands at the newest fact unless you choose a moment."}
        </p>
      </PopoverPanel>
    </Popover>
  );
}

function MovePopover(props: { asOf: string | null; newest: string | undefined; reporting: boolean }) {
  const { asOf, newest, reporting } = props;
  const view = useView();
  const button = useRef<HTMLButtonElement>(null);
  const [text, setText] = useState(asOf ? typedOf(asOf, viewerZone) : "");
  useEffect(() => {
    const open = () => button.current?.click();
    window.addEventListener("firth:move", open);
    return () => window.removeEventListener("firth:move", open);
  }, []);
  return (
    <Popover className="relative">
      <PopoverButton ref={button} className="rounded border border-line bg-panel px-1.5 text-fine text-muted">
        <kbd>.</kbd> move
      </PopoverButton>
      <PopoverPanel
        focus
        anchor={{ to: "bottom start", gap: 6 }}
        className="z-30 w-80 rounded-lg border border-ink bg-panel p-4 shadow-lg"
      >
        {({ close }) => (
          <form
            className="space-y-3"
            onSubmit={(e) => {
              e.preventDefault();
              const at = instantOf(text, viewerZone);
              if (!at) return;
              view.setAsOf(at);
              close();
            }}
          >
            <MomentField label="Look from" zone={viewerZone} value={text} onChange={setText} />
            <div className="flex gap-2">
              <button className="ink-button" type="submit">
                Look from there
              </button>
              <button
                type="button"
                className="outline-button"
                onClick={() => {
                  view.setAsOf(null);
                  close();
                }}
              >
                {reporting ? "Now" : "Newest facts"}
              </button>
            </div>
            <label className="block">
              <span className="block text-note text-muted">Period before it</span>
              <select
                value={view.days}
                onChange={(e) => view.setDays(Number(e.target.value))}
                className="w-full rounded border border-line bg-paper px-2 py-1"
              >
                {[...new Set([7, 14, 30, 60, 90, 365, view.days])]
                  .sort((a, b) => a - b)
                  .map((d) => (
                    <option key={d} value={d}>
                      {d} days
                    </option>
                  ))}
              </select>
            </label>
            <p className="text-note text-muted">
              Newest facts are from {newest ? longMoment(newest, viewerZone) : "…"}. What happened after the
              moment you choose is not known there.
            </p>
          </form>
        )}
      </PopoverPanel>
    </Popover>
  );
}

function Strip({
  asOf,
  newest,
  outside,
}: {
  asOf: string | null;
  newest: string | null;
  outside: Outside[];
}) {
  const view = useView();
  const [box, width] = useWidth<HTMLDivElement>();
  const [dragged, setDragged] = useState<number | null>(null);
  if (!asOf || !newest) return <div ref={box} />;
  const end = Math.max(Date.parse(newest), Date.parse(asOf));
  const begin = Math.min(end - view.days * 24 * HOUR, Date.parse(asOf) - 24 * HOUR);
  const at = scaleUtc()
    .domain([begin, end])
    .range([14, width - 20]);
  const flag = dragged ?? Date.parse(asOf);
  const choose = (ms: number) => {
    const bound = Math.min(end, Math.max(begin, ms));
    view.setAsOf(end - bound < 60_000 ? null : isoSecond(Math.round(bound / 60_000) * 60_000));
  };
  const fromPointer = (clientX: number) => {
    const left = box.current?.getBoundingClientRect().left ?? 0;
    return Math.min(end, Math.max(begin, at.invert(clientX - left).getTime()));
  };
  return (
    <div ref={box} className="relative h-[68px] overflow-hidden">
      {width > 0 && (
        <svg
          width={width}
          height={68}
          className="absolute inset-0 touch-none"
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            setDragged(fromPointer(e.clientX));
          }}
          onPointerMove={(e) => dragged !== null && setDragged(fromPointer(e.clientX))}
          onPointerUp={() => {
            if (dragged !== null) choose(dragged);
            setDragged(null);
          }}
        >
          <rect
            x={at(begin)}
            y={8}
            width={Math.max(0, at(flag) - at(begin))}
            height={28}
            fill="var(--chosen)"
          />
          <text x={at(begin) + 6} y={21} fontSize={11} fill="var(--muted)">
            share of the fleet outside its objective
          </text>
          {outside
            .filter((o) => o.share > 0 && Date.parse(o.to) > begin)
            .map((o) => (
              <OutsideMark key={o.from} at={at} begin={begin} o={o} />
            ))}
          <line x1={at(begin)} x2={at(end)} y1={36.5} y2={36.5} stroke="var(--line)" />
          <Ticks at={at} width={width} />
          <Flag
            begin={begin}
            end={end}
            flag={flag}
            asOf={asOf}
            choose={choose}
            at={at}
            held={dragged !== null}
          />
          {dragged !== null && (
            <text x={at(flag) - 8} y={62} fontSize={12} fontWeight={600} textAnchor="end" fill="var(--ink)">
              {longMoment(flag, viewerZone)}
            </text>
          )}
        </svg>
      )}
    </div>
  );
}

function Ticks({ at, width }: { at: ScaleTime<number, number>; width: number }) {
  return (
    <>
      {at.ticks(Math.max(2, Math.floor(width / 32))).map((t) => (
        <line key={+t} x1={at(t)} x2={at(t)} y1={38} y2={43} stroke="var(--line)" />
      ))}
      {at.ticks(Math.max(2, Math.floor(width / 180))).map((t) => (
        <g key={+t}>
          <line x1={at(t)} x2={at(t)} y1={38} y2={46} stroke="var(--muted)" />
          {at(t) < width - 70 && (
            <text x={at(t) + 4} y={56} fontSize={11} fill="var(--ink)">
              {day(t, viewerZone)}
            </text>
          )}
        </g>
      ))}
    </>
  );
}

function OutsideMark(props: { at: ScaleTime<number, number>; begin: number; o: Outside }) {
  const { at, begin, o } = props;

  const x = at(Math.max(begin, Date.parse(o.from)));
  const height = Math.max(2, o.share * 28);
  return (
    <rect
      x={x}
      y={36 - height}
      width={Math.max(1, at(Date.parse(o.to)) - x)}
      height={height}
      fill="var(--coral)"
    >
      <title>{`${Math.round(o.share * 100)} % outside, ${o.databases} databases, ${longMoment(o.from, viewerZone)}`}</title>
    </rect>
  );
}

/** The moment looked at, moved by keys. `held`: somebody drags it. */
function Flag(props: {
  begin: number;
  end: number;
  flag: number;
  asOf: string;
  choose: (ms: number) => void;
  at: ScaleTime<number, number>;
  held: boolean;
}) {
  const { begin, end, flag, asOf, choose, at, held } = props;
  // Where keys have put the flag while the page still shows a moment before: they come faster than views.
  const pending = useRef<{ flag: number; until: number } | null>(null);
  useEffect(() => {
    if (held) pending.current = null;
  }, [held]);
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label="As of"
      aria-valuemin={begin}
      aria-valuemax={end}
      aria-valuenow={flag}
      aria-valuetext={longMoment(flag, viewerZone)}
      data-testid="flag"
      className="cursor-ew-resize"
      onKeyDown={(e) => {
        const step = e.shiftKey ? 24 * HOUR : HOUR;
        const waiting = pending.current && e.timeStamp < pending.current.until ? pending.current.flag : null;
        const from = waiting ?? Date.parse(asOf);
        const to = { ArrowLeft: from - step, ArrowRight: from + step, End: end, Home: begin }[e.key];
        if (to === undefined) return;
        const bound = Math.min(end, Math.max(begin, to));
        pending.current = { flag: bound, until: e.timeStamp + SETTLED };
        choose(bound);
        e.preventDefault();
      }}
    >
      <rect x={at(flag) - 8} y={2} width={24} height={46} fill="transparent" />
      <line x1={at(flag)} x2={at(flag)} y1={3} y2={46} stroke="var(--ink)" strokeWidth={2} />
      <path d={`M${at(flag)} 3h12l-3 4.5 3 4.5h-12z`} fill="var(--ink)" />
    </g>
  );
}
