import { useState } from "react";
import { useSearchParams } from "react-router";
import type { DatabaseView, Schemas } from "../../api/types";
import type { RestorePlan } from "./api";
import { momentAt, scale } from "../../ribbon/geometry";
import { Ribbon } from "../../ribbon/Ribbon";
import { isoSecond } from "../../time/view";
import { day, longMoment, time } from "../../time/words";
import { useWidth } from "../../ui/useWidth";
import { instantOf, typedOf } from "../../time/typed";
import { MomentField } from "../../ui/Typed";
import { meant, written } from "../../ui/positions";

const HAZARDS = ["none", "one hazard", "two of three hazards", "all three hazards"];

/** The moment to restore: pointed at on the ribbon, typed to the second, the latest, or a position of each stream. */
export function Pointing({ plan, data }: { plan: RestorePlan; data: DatabaseView | undefined }) {
  const [params, setParams] = useSearchParams();
  const [box, width] = useWidth<HTMLDivElement>();
  const [over, setOver] = useState<number | null>(null);
  const change = (how: (next: URLSearchParams) => void) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        ["moment", "positions", "lineage"].forEach((n) => next.delete(n));
        how(next);
        return next;
      },
      { replace: true },
    );
  const to = (moment: string) => change((next) => next.set("moment", moment));
  const at = data && width > 0 ? scale(data.from, data.to, width) : null;
  const pointed = data && over !== null ? momentAt(data.from, data.to, width, over) : null;
  const water = data?.row.water.find((w) => plan.target && w.from <= plan.target && plan.target <= w.to);
  const x = at && plan.target ? at(plan.target) : null;
  return (
    <section aria-label="To which moment" className="mt-2">
      {/* The moment is typed in the field beneath; pointing is the quicker way for whoever has a pointer. */}
      {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions */}
      <div
        ref={box}
        className="relative cursor-crosshair pt-3 pb-9"
        data-testid="pointing"
        onPointerMove={(e) => setOver(e.clientX - e.currentTarget.getBoundingClientRect().left)}
        onPointerLeave={() => setOver(null)}
        onClick={(e) => {
          if (!data) return;
          const left = e.clientX - e.currentTarget.getBoundingClientRect().left;
          to(isoSecond(momentAt(data.from, data.to, width, left)));
        }}
      >
        {data && width > 0 && (
          <Ribbon
            water={data.row.water}
            sand={data.row.sand}
            marks={data.row.marks}
            from={data.from}
            to={data.to}
            width={width}
            zone={plan.zone}
            height={26}
          />
        )}
        {x !== null && x >= 0 && x <= width && <PointedAt width={width} x={x} plan={plan} />}
        {pointed !== null && (
          <span
            className="pointer-events-none absolute top-[-8px] text-note whitespace-nowrap text-muted"
            style={(over ?? 0) > width / 2 ? { right: width - (over ?? 0) } : { left: over ?? 0 }}
          >
            {day(pointed, plan.zone)} {time(pointed, plan.zone)}
          </span>
        )}
      </div>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-1">
        <Typed key={plan.target} plan={plan} onType={to} />
        <button
          className="text-button"
          onClick={() => change(() => {})}
          disabled={!params.has("moment") && !params.has("positions")}
        >
          As late as possible
        </button>
        <Positions plan={plan} onType={(p) => change((next) => next.set("positions", p))} />
        {water && (
          <span className="ml-auto text-muted">
            {plan.zone} · survives {HAZARDS[water.depth]}
          </span>
        )}
      </div>
    </section>
  );
}

function PointedAt(props: { width: number; x: number; plan: Schemas["RestoreView"] }) {
  const { width, x, plan } = props;
  return (
    <>
      <svg
        className="pointer-events-none absolute top-0 left-0 overflow-visible"
        width={width}
        height={62}
        aria-hidden
      >
        <path d={`M${x - 6} 4 h12 l-6 8 z`} fill="var(--ink)" />
        <line x1={x} x2={x} y1={10} y2={56} stroke="var(--ink)" strokeWidth={2} />
      </svg>
      <span
        className="pointer-events-none absolute top-[54px] rounded bg-ink px-2.5 py-0.5 font-semibold whitespace-nowrap text-panel"
        style={x > width / 2 ? { right: width - x - 12 } : { left: Math.max(0, x - 12) }}
        data-testid="target"
      >
        {plan.target && `${longMoment(plan.target, plan.zone)}:${plan.target.slice(17, 19)}`}
      </span>
    </>
  );
}

function Typed({ plan, onType }: { plan: RestorePlan; onType: (moment: string) => void }) {
  const [text, setText] = useState(plan.target ? typedOf(plan.target, plan.zone) : "");
  const instant = instantOf(text, plan.zone);
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (instant) onType(instant);
      }}
    >
      <MomentField label="Moment" className="text-muted" zone={plan.zone} value={text} onChange={setText} />
      <button className="text-button" disabled={!instant}>
        Plan
      </button>
    </form>
  );
}

/** A position for each stream, for those who know them better than the time. */
function Positions({ plan, onType }: { plan: RestorePlan; onType: (positions: string) => void }) {
  const [open, setOpen] = useState(plan.positions.length > 0);
  const [values, setValues] = useState<Record<string, string>>(
    Object.fromEntries(plan.positions.map((p) => [p.stream, written(plan.engine, p.position)])),
  );
  const full = plan.streams.every((s) => meant(values[s] ?? "") !== null);
  if (!open) {
    return (
      <button className="text-button" onClick={() => setOpen(true)}>
        A log position…
      </button>
    );
  }
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      aria-label="Log positions"
      onSubmit={(e) => {
        e.preventDefault();
        if (full) onType(plan.streams.map((s) => `${s}:${meant(values[s] ?? "")}`).join(","));
      }}
    >
      {plan.streams.map((s) => (
        <label key={s} className="flex items-center gap-1 text-muted">
          {s}
          <input
            title="A number, or as the engine writes it: 0/1A2B3C4D, binlog.000003:4711"
            className="w-[170px] rounded border border-line bg-panel px-1.5 py-0.5 font-mono text-ink"
            value={values[s] ?? ""}
            onChange={(e) => setValues({ ...values, [s]: e.target.value.trim() })}
          />
        </label>
      ))}
      <button className="text-button" disabled={!full}>
        Plan
      </button>
    </form>
  );
}
