import { useId, useState, type ReactNode, type RefObject } from "react";
import { DATE_FOR_INSTANCE, dateOf, typedDate } from "../../time/typed";
import { Choice } from "../../ui/Choice";
import { areTimes, ORDINALS, type Picked } from "./picked";
import { today } from "./recurrence";
import { DAYS, dayName, readTime } from "./values";

type Kind = "day" | "week" | "dates" | "nth" | "one";

const KINDS: [Kind, string][] = [
  ["day", "by days"],
  ["week", "by days of the week"],
  ["dates", "by days of the month"],
  ["nth", "by a weekday of the month"],
  ["one", "by a working day of the month"],
];

const WORKING = ["MO", "TU", "WE", "TH", "FR"];
const UNIT: Record<Kind, string> = { day: "day", week: "week", dates: "month", nth: "month", one: "month" };

/** Which of the ways of picking shows what is picked; null where none does. */
export function kindOf(is: Picked | null): Kind | null {
  if (!is || is.months.length > 0) return null;
  if (is.by !== "month") return is.by;
  if ("dates" in is) return "dates";
  if ("nth" in is) return is.nth.length === 1 ? "nth" : null;
  return is.of.join() === WORKING.join() && Math.abs(is.one) === 1 ? "one" : null;
}

/** What a way of picking begins with. */
function begun(kind: Kind, times: string[]): Picked {
  const common = { every: 1, months: [], times: kind === "one" ? times.slice(0, 1) : times };
  switch (kind) {
    case "day":
      return { by: "day", ...common };
    case "week":
      return { by: "week", days: ["SA"], ...common };
    case "dates":
      return { by: "month", dates: [1], ...common };
    case "nth":
      return { by: "month", nth: [[1, "SU"]], ...common };
    case "one":
      return { by: "month", one: 1, of: WORKING, ...common };
  }
}

type Props = {
  /** The first of its fields. */
  first: RefObject<HTMLSelectElement | null>;
  rule: string;
  is: Picked | null;
  anchor: string;
  onPick: (picked: Picked, anchor: string) => void;
};

/** Most recurrences picked: how often, on which days, at which times, counted from when. What it cannot show it says and leaves alone. */
export function RulePicker({ first, rule, is, anchor, onPick }: Props) {
  const kind = kindOf(is);
  const pick = (next: Picked) => onPick(next, next.every > 1 && is?.every === 1 ? today() : anchor);
  return (
    <span className="block">
      <span className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <select
          ref={first}
          aria-label="How it recurs"
          className="rounded border border-line bg-panel px-1.5 py-0.5"
          value={kind ?? ""}
          onChange={(e) => pick(begun(e.target.value as Kind, is?.times ?? ["22:00"]))}
        >
          {kind === null && <option value="">as it is written</option>}
          {KINDS.map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
        {kind !== null && is && (
          <>
            <Every key={`every ${rule}`} unit={UNIT[kind]} is={is} onPick={pick} />
            <OnDays kind={kind} rule={rule} is={is} onPick={pick} />
            <Times key={`times ${rule}`} kind={kind} is={is} onPick={pick} />
          </>
        )}
      </span>
      {kind === null && (
        <span className="block text-muted">
          It says more than can be picked here, and stays as it is written unless something is chosen.
        </span>
      )}
      {kind !== null && is && is.every > 1 && (
        <Typed
          key={`from ${anchor}`}
          label="Counted from"
          before="counted from"
          width="w-28"
          value={dateOf(anchor) ? typedDate(anchor) : anchor}
          wrong={`is not a date such as ${DATE_FOR_INSTANCE}`}
          read={(t) => dateOf(t) ?? null}
          onPick={(from) => onPick(is, from)}
        />
      )}
    </span>
  );
}

type Part = { is: Picked; onPick: (picked: Picked) => void };

/** A field that says at once what is wrong with what is typed, and takes the rest. */
function Typed<T>(props: {
  label: string;
  before?: ReactNode;
  after?: ReactNode;
  width: string;
  value: string;
  wrong: string;
  read: (typed: string) => T | null;
  onPick: (read: T) => void;
}) {
  const { label, before, after, width, value, wrong, read, onPick } = props;
  const [typed, setTyped] = useState(value);
  const id = useId();
  const bad = read(typed) === null;
  return (
    <span className="flex items-center gap-1">
      {before}
      <input
        aria-label={label}
        aria-invalid={bad}
        aria-describedby={bad ? id : undefined}
        className={`${width} rounded border bg-panel px-1 ${bad ? "border-coral" : "border-line"}`}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => take()}
        onKeyDown={(e) => e.key === "Enter" && take()}
      />
      {after}
      {bad && (
        <span id={id} role="alert" className="text-coral-text">
          {wrong}
        </span>
      )}
    </span>
  );
  function take() {
    const found = read(typed);
    if (found !== null && typed !== value) onPick(found);
  }
}

function Every({ unit, is, onPick }: Part & { unit: string }) {
  return (
    <Typed
      label={`Every how many ${unit}s`}
      before="every"
      after={is.every === 1 ? unit : `${unit}s`}
      width="w-10"
      value={String(is.every)}
      wrong="is not a number from 1 to 99"
      read={(t) => (/^[1-9]\d?$/.test(t.trim()) ? { ...is, every: Number(t) } : null)}
      onPick={onPick}
    />
  );
}

function Times({ kind, is, onPick }: Part & { kind: Kind }) {
  const one = kind === "one";
  return (
    <Typed
      label="Times"
      before="at"
      width="w-32"
      value={is.times.join(", ")}
      wrong={
        one
          ? "is not a time of day such as 22:00"
          : "is not a time of day such as 22:00, or several with the same minutes"
      }
      read={(t) => {
        const read = t.split(",").map((x) => readTime(x));
        const times = [...new Set(read)].sort();
        const good =
          read.every((x) => x !== null) && (!one || times.length === 1) && areTimes(times as string[]);
        return good ? { ...is, times: times as string[] } : null;
      }}
      onPick={onPick}
    />
  );
}

function OnDays({ kind, rule, is, onPick }: Part & { kind: Kind; rule: string }) {
  if (kind === "week" && is.by === "week")
    return (
      <>
        {DAYS.map((d) => (
          <label key={d} className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={is.days.includes(d)}
              onChange={() => {
                const days = DAYS.filter((o) => (o === d ? !is.days.includes(o) : is.days.includes(o)));
                if (days.length > 0) onPick({ ...is, days });
              }}
            />
            {dayName(d).slice(0, 3)}
          </label>
        ))}
      </>
    );
  if (is.by !== "month") return null;
  if ("dates" in is)
    return (
      <Typed
        key={`dates ${rule}`}
        label="Days of the month"
        before="on day"
        width="w-28"
        value={is.dates.map((d) => (d === -1 ? "last" : String(d))).join(", ")}
        wrong="is not days such as 1, 15, last"
        read={(t) => {
          const dates = readDates(t);
          return dates && { ...is, dates };
        }}
        onPick={onPick}
      />
    );
  const place = "nth" in is ? (is.nth[0]?.[0] ?? 1) : is.one;
  return (
    <span className="flex items-center gap-1">
      on the
      <Choice
        labelled={false}
        label="Which of the month"
        value={String(place)}
        options={ORDINALS.filter(([n]) => "nth" in is || Math.abs(n) === 1).map(([n, t]) => [String(n), t])}
        onChange={(n) =>
          onPick(
            "nth" in is ? { ...is, nth: [[Number(n), is.nth[0]?.[1] ?? "SU"]] } : { ...is, one: Number(n) },
          )
        }
      />
      {"nth" in is ? (
        <Choice
          labelled={false}
          label="Weekday"
          value={is.nth[0]?.[1] ?? "SU"}
          options={DAYS.map((d) => [d, dayName(d)])}
          onChange={(d) => onPick({ ...is, nth: [[place, d]] })}
        />
      ) : (
        "working day, Monday to Friday"
      )}
    </span>
  );
}

/** "1, 15, last" as days of a month, the last being -1; null where one is none. */
export function readDates(typed: string): number[] | null {
  const read = typed
    .split(",")
    .map((t) => (t.trim() === "last" ? -1 : /^\d{1,2}$/.test(t.trim()) ? Number(t) : 0));
  if (!read.every((d) => d === -1 || (d >= 1 && d <= 31))) return null;
  const dates = [...new Set(read)].sort((a, b) => a - b);
  return [...dates.filter((d) => d > 0), ...dates.filter((d) => d < 0)];
}
