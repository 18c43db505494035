import type { Schemas } from "../../api/types";
import { scaleLinear } from "d3-scale";
import type { PlanStep, PlanWay, RestorePlan } from "./api";
import { count, duration, moment, promise, size } from "../../time/words";
import { useWidth } from "../../ui/useWidth";
import { MeasuredStep, type Measured } from "./Measured";

const LABELS = 118;
const ROW = 34;
const MOST = 12;
type StairKind = Schemas["PlanStep"]["kind"] | "open";
const NAMES: Record<StairKind, string> = {
  open: "open",
  config: "configuration",
  full: "full",
  diff: "differential",
  incr: "incremental",
  log: "logs",
};
const FILLS: Record<string, string> = { config: "var(--violet)", log: "var(--water-2)" };

/** A step, or several of a kind that would not fit otherwise. */
export type Stair = { kind: StairKind; text: string; starts: number; seconds: number | null };

/** The stairs of a way: one for each step; incrementals in a row become one where there are many. */
export function stairs(way: PlanWay, zone: string): Stair[] {
  const many = way.steps.length > MOST;
  const out: (Stair & { of: PlanStep[] })[] = [];
  for (const s of way.steps) {
    const last = out.at(-1);
    if (many && last && s.kind === "incr" && last.kind === "incr") last.of.push(s);
    else out.push({ kind: s.kind, text: "", starts: s.starts, seconds: 0, of: [s] });
  }
  return out.map(({ of, ...stair }) => ({
    ...stair,
    text: describe(of, zone),
    seconds: of.some((s) => s.seconds === null) ? null : of.reduce((sum, s) => sum + (s.seconds ?? 0), 0),
  }));
}

function describe(of: PlanStep[], zone: string): string {
  const first = of[0] as PlanStep;
  const bytes = of.some((s) => s.bytes === null)
    ? ""
    : `, ${size(of.reduce((sum, s) => sum + (s.bytes ?? 0), 0))}`;
  const evidence = weakest(of);
  const known = evidence && evidence !== "told" ? `, ${evidence}` : "";
  if (of.length > 1) return `${of.length} of them${bytes}, ${first.storeName}${known}`;
  if (first.kind === "log") {
    const stream = first.stream && first.stream !== "main" ? `, stream ${first.stream}` : "";
    return `${first.count === 1 ? "one" : `${count(first.count)} of them`}${bytes}, ${first.storeName}${stream}${known}`;
  }
  return `${first.backup}${first.at ? ` of ${moment(first.at, zone)}` : ""}${bytes}, ${first.storeName}${known}`;
}

/** From how little to how much is known of a backup's times and positions. */
const EVIDENCE = ["told", "listed", "read", "checked", "verified", "restored"];

/** What several steps rest on together; nothing where it is not known of one. */
function weakest(of: PlanStep[]): string | null {
  if (of.some((s) => !s.evidence)) return null;
  return EVIDENCE.find((e) => of.some((s) => s.evidence === e)) ?? null;
}

type Props = { plan: RestorePlan; way: PlanWay; measured?: Measured[] };

/** The way there as a staircase of time, against the promised restore time and what was measured. */
export function Staircase({ plan, way, measured = [] }: Props) {
  const [box, width] = useWidth<HTMLDivElement>();
  const all: Stair[] = [
    ...stairs(way, plan.zone),
    { kind: "open", text: "on a new lineage", starts: way.seconds, seconds: 0 },
  ];
  const expected = plan.factor === null ? way.seconds : way.seconds * plan.factor;
  const longest = Math.max(
    way.seconds,
    expected,
    ...measured.map((m) => m.until),
    way.seconds * 4 > (plan.promised ?? 0) ? (plan.promised ?? 0) : 0,
    1,
  );
  const x = scaleLinear()
    .domain([0, longest * 1.04])
    .range([LABELS, Math.max(LABELS + 60, width)]);
  const bottom = (all.length + measured.length) * ROW + 8;
  return (
    <section aria-label="The way there" className="mt-4" ref={box}>
      <Heading plan={plan} way={way} expected={expected} />
      {!way.secondsKnown && (
        <p className="text-ochre-text">
          Not all of it is known: a size, a read rate or the replay rate was never told.
        </p>
      )}
      {width > 0 && (
        <svg
          width={width}
          height={bottom + 20}
          role="img"
          aria-label={[spoken(all), ...measured.map((m) => `${m.name}, measured: ${m.text}`)].join("; ")}
          data-testid="staircase"
        >
          {ticks(longest).map((t) => (
            <g key={t}>
              <line x1={x(t)} x2={x(t)} y1={4} y2={bottom} stroke="var(--line)" />
              <text x={x(t)} y={bottom + 14} fontSize={12} textAnchor="middle" fill="var(--muted)">
                {t === 0 ? "start" : promise(t)}
              </text>
            </g>
          ))}
          {all.map((s, k) => (
            <Step key={k} stair={s} y={8 + k * ROW} x={x} width={width} last={k === all.length - 1} />
          ))}
          {measured.map((m, k) => (
            <MeasuredStep key={m.name} {...m} y={8 + (all.length + k) * ROW} x={x} width={width} />
          ))}
          {plan.promised !== null && x(plan.promised) <= width && (
            <Promised at={x(plan.promised)} bottom={bottom} />
          )}
        </svg>
      )}
    </section>
  );
}

function Heading({ plan, way, expected }: { plan: RestorePlan; way: PlanWay; expected: number }) {
  const late = plan.promised !== null && expected > plan.promised;
  return (
    <h2 className="text-section">
      The way there, {way.secondsKnown ? duration(way.seconds) : `at least ${duration(way.seconds)}`}
      {plan.factor !== null && (
        <span className="text-body text-muted">
          {" "}
          as computed; <b className={late ? "text-coral-text" : "text-ink"}>{duration(expected)}</b> going by
          drills
        </span>
      )}
      {plan.promised !== null && (
        <span className={`text-body ${late ? "font-semibold text-coral-text" : "text-muted"}`}>
          {" "}
          · promised {promise(plan.promised)}
          {late ? ", not kept" : ""}
        </span>
      )}
    </h2>
  );
}

function Promised({ at, bottom }: { at: number; bottom: number }) {
  return (
    <g>
      <line
        x1={at}
        x2={at}
        y1={2}
        y2={bottom}
        stroke="var(--violet)"
        strokeDasharray="4 3"
        strokeWidth={1.5}
      />
      <text x={at - 5} y={12} fontSize={12} textAnchor="end" fill="var(--violet)">
        promised
      </text>
    </g>
  );
}

const STEPS = [10, 60, 300, 600, 1800, 3600, 2 * 3600, 6 * 3600, 86400];

/** Round moments along the way, a few. */
function ticks(longest: number): number[] {
  const step = STEPS.find((s) => longest / s <= 6) ?? Math.ceil(longest / 6 / 86400) * 86400;
  return Array.from({ length: Math.floor(longest / step) + 1 }, (_, k) => k * step);
}

function spoken(all: Stair[]): string {
  return all
    .map((s) => `${NAMES[s.kind]}: ${s.text}${s.seconds ? `, ${duration(s.seconds)}` : ""}`)
    .join("; ");
}

type StepProps = { stair: Stair; y: number; x: (seconds: number) => number; width: number; last: boolean };

function Step({ stair, y, x, width, last }: StepProps) {
  const left = x(stair.starts);
  const end = Math.max(left + 3, x(stair.starts + (stair.seconds ?? 0)));
  const inside = end - left > stair.text.length * 6.6 + 16;
  const beside = width - end > stair.text.length * 6.6 + 14;
  return (
    <g>
      <text x={LABELS - 12} y={y + 15} textAnchor="end" fontSize={13} fontWeight={600} fill="var(--ink)">
        {NAMES[stair.kind]}
      </text>
      <rect x={left} y={y} width={end - left} height={22} rx={3} fill={FILLS[stair.kind] ?? "var(--ink)"} />
      {!last && <line x1={end} x2={end} y1={y + 22} y2={y + ROW} stroke="var(--ink)" />}
      <text
        x={inside ? left + 8 : beside ? end + 8 : left - 8}
        y={y + 15}
        fontSize={12}
        textAnchor={inside || beside ? "start" : "end"}
        fill={inside && stair.kind !== "log" ? "var(--panel)" : "var(--ink)"}
      >
        {stair.text}
      </text>
    </g>
  );
}
