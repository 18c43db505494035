import { DAYS, daysWords } from "./values";

/** Days in a month on which something recurs: its dates, -1 being the last day; weekdays by their number; or one of some weekdays. */
export type OfMonth =
  { dates: number[] } | { nth: [number: number, day: string][] } | { one: number; of: string[] };

/** A recurrence as it can be picked and said: every so many days, weeks or months, at times of the day. */
export type Picked = { every: number; months: number[]; times: string[] } & (
  { by: "day" } | { by: "week"; days: string[] } | ({ by: "month" } & OfMonth)
);

const MOST_TIMES = 8;
const KNOWN = new Set(
  "FREQ INTERVAL BYDAY BYMONTHDAY BYMONTH BYSETPOS BYHOUR BYMINUTE BYSECOND WKST".split(" "),
);
const two = (n: number) => String(n).padStart(2, "0");

/** Whole numbers within bounds, ascending, separated by commas; null where one is none. */
function numbers(text: string, least: number, most: number): number[] | null {
  const out = text.split(",").map((t) => (/^[+-]?\d+$/.test(t) ? Number(t) : NaN));
  return out.every((n) => n >= least && n <= most) ? [...new Set(out)].sort((a, b) => a - b) : null;
}

function timesOf(hours: number[] | null, minutes: number[] | null): string[] | null {
  if (!hours || !minutes || hours.length * minutes.length > MOST_TIMES) return null;
  return hours.flatMap((h) => minutes.map((m) => `${two(h)}:${two(m)}`));
}

const ordered = (days: string[]) => DAYS.filter((d) => days.includes(d));
const areDays = (days: string[]) => days.every((d) => (DAYS as readonly string[]).includes(d));

/** What a rule of RFC 5545 says, where it can be picked; null of any other. */
export function pickRule(rule: string): Picked | null {
  const parts = new Map(
    rule
      .trim()
      .toUpperCase()
      .replace(/^RRULE:/, "")
      .split(";")
      .map((p) => p.split("=") as [string, string]),
  );
  if (![...parts.keys()].every((k) => KNOWN.has(k)) || [...parts.values()].some((v) => !v)) return null;
  const every = numbers(parts.get("INTERVAL") ?? "1", 1, 1000)?.[0];
  const months = parts.has("BYMONTH") ? numbers(parts.get("BYMONTH") ?? "", 1, 12) : [];
  const times = timesOf(
    numbers(parts.get("BYHOUR") ?? "", 0, 23),
    numbers(parts.get("BYMINUTE") ?? "0", 0, 59),
  );
  const plain = (parts.get("BYSECOND") ?? "0") === "0" && (parts.get("WKST") ?? "MO") === "MO";
  if (!every || !months || !times || !plain || (every > 1 && months.length > 0)) return null;
  const common = { every, months, times };
  const days = parts.get("BYDAY")?.split(",");
  const dates = parts.get("BYMONTHDAY");
  const one = parts.get("BYSETPOS");
  switch (parts.get("FREQ")) {
    case "DAILY":
      if (dates || one || (days && every > 1)) return null;
      if (!days) return { by: "day", ...common };
      return areDays(days) ? { by: "week", days: ordered(days), ...common } : null;
    case "WEEKLY":
      return days && areDays(days) && !dates && !one ? { by: "week", days: ordered(days), ...common } : null;
    case "MONTHLY":
      return ofMonth(common, days, dates, one);
    case "YEARLY":
      // One of all in a year is another than one of all in a month.
      return months.length > 0 && every === 1 && !one ? ofMonth(common, days, dates, one) : null;
    default:
      return null;
  }
}

function ofMonth(
  common: { every: number; months: number[]; times: string[] },
  days: string[] | undefined,
  dates: string | undefined,
  one: string | undefined,
): Picked | null {
  if (dates) {
    const found = numbers(dates, -1, 31);
    const good = found && !found.includes(0) && !days && !one;
    return good ? { by: "month", dates: lastBehind(found), ...common } : null;
  }
  if (!days) return null;
  if (one) {
    // Of several times of a day it is one of them that counts.
    const at = numbers(one, -1, 4);
    const good = at?.length === 1 && at[0] !== 0 && areDays(days) && common.times.length === 1;
    return good ? { by: "month", one: at[0] as number, of: ordered(days), ...common } : null;
  }
  const nth = days.map((d) => /^([+-]?\d)([A-Z]{2})$/.exec(d));
  const pairs = nth.map((m): [number, string] => [Number(m?.[1]), m?.[2] ?? ""]);
  const good = pairs.every(([n, d]) => areDays([d]) && [1, 2, 3, 4, -1].includes(n));
  return good ? { by: "month", nth: pairs, ...common } : null;
}

const lastBehind = (dates: number[]) => [...dates.filter((d) => d > 0), ...dates.filter((d) => d < 0)];

const WEEKDAYS = ["SUN", "MON", "TUE", "WED", "THU", "FRI", "SAT"];
const YEAR = "JAN FEB MAR APR MAY JUN JUL AUG SEP OCT NOV DEC".split(" ");

/** The numbers of a cron field: lists, stretches and steps, by number or name; null of anything else. */
function field(text: string, least: number, most: number, names: string[] = []): number[] | null {
  const number = (t: string) => {
    const named = names.indexOf(t.toUpperCase());
    if (named >= 0) return named + least;
    return /^\d{1,2}$/.test(t) ? Number(t) : NaN;
  };
  const out = new Set<number>();
  for (const part of text.split(",")) {
    const [range, step = "1"] = part.split("/") as [string, string?];
    const [from, to] =
      range === "*" ? [String(least), String(most)] : (range.split("-") as [string, string?]);
    const low = number(from);
    const high = to === undefined ? (part.includes("/") ? most : low) : number(to);
    const by = number(step);
    if (!(low >= least && high <= most && low <= high && by > 0)) return null;
    for (let n = low; n <= high; n += by) out.add(n);
  }
  return [...out].sort((a, b) => a - b);
}

/** What a cron line says, where it can be picked; null of any other. */
export function pickCron(line: string): Picked | null {
  const [minute, hour, date, month, weekday, ...more] = line.trim().split(/\s+/);
  if (weekday === undefined || more.length > 0) return null;
  const times = timesOf(field(hour as string, 0, 23), field(minute as string, 0, 59));
  const months = month === "*" ? [] : field(month as string, 1, 12, YEAR);
  if (!times || !months) return null;
  const common = { every: 1, months, times };
  if (date === "*" && weekday === "*") return { by: "day", ...common };
  if (date === "*") {
    const days = field(weekday, 0, 7, WEEKDAYS);
    return days && { by: "week", days: ordered(days.map((d) => DAYS[(d + 6) % 7] as string)), ...common };
  }
  // Where both are said either is enough, which no words here say.
  if (weekday !== "*") return null;
  const dates = field(date as string, 1, 31);
  return dates && { by: "month", dates, ...common };
}

/** The rule of RFC 5545 that says what was picked. */
export function ruleOf(p: Picked): string {
  const hours = [...new Set(p.times.map((t) => Number(t.slice(0, 2))))];
  const minutes = [...new Set(p.times.map((t) => Number(t.slice(3))))];
  const interval = p.every > 1 ? `;INTERVAL=${p.every}` : "";
  const months = p.months.length > 0 ? `;BYMONTH=${p.months.join(",")}` : "";
  const times = `;BYHOUR=${hours.join(",")};BYMINUTE=${minutes.join(",")}`;
  if (p.by === "day") return `FREQ=DAILY${interval}${months}${times}`;
  if (p.by === "week") {
    const all = p.days.length === DAYS.length && p.every === 1;
    return `${all ? "FREQ=DAILY" : `FREQ=WEEKLY${interval};BYDAY=${p.days.join(",")}`}${months}${times}`;
  }
  const on =
    "dates" in p
      ? `;BYMONTHDAY=${p.dates.join(",")}`
      : "nth" in p
        ? `;BYDAY=${p.nth.map(([n, d]) => `${n}${d}`).join(",")}`
        : `;BYDAY=${p.of.join(",")};BYSETPOS=${p.one}`;
  return `FREQ=MONTHLY${interval}${months}${on}${times}`;
}

/** Whether hours and minutes can be said apart from one another, as a rule says them. */
export function areTimes(times: string[]): boolean {
  const hours = new Set(times.map((t) => t.slice(0, 2)));
  const minutes = new Set(times.map((t) => t.slice(3)));
  return times.length > 0 && times.length <= MOST_TIMES && hours.size * minutes.size === new Set(times).size;
}

export const ORDINALS: [number, string][] = [
  [1, "first"],
  [2, "second"],
  [3, "third"],
  [4, "fourth"],
  [-1, "last"],
];
const ordinal = (n: number) => ORDINALS.find(([o]) => o === n)?.[1] ?? String(n);
const MONTHS = "January February March April May June July August September October November December".split(
  " ",
);
const WORKING = "MO,TU,WE,TH,FR";

/** "a", "a and b", "a, b and c". */
export const listed = (all: string[]) =>
  all.length < 2 ? (all[0] ?? "") : `${all.slice(0, -1).join(", ")} and ${all[all.length - 1]}`;

function monthWords(p: Picked & { by: "month" }): string {
  if ("dates" in p) {
    const dates = p.dates.filter((d) => d > 0).map(String);
    const parts = dates.length > 0 ? [`${dates.length > 1 ? "days" : "day"} ${listed(dates)}`] : [];
    return listed([...parts, ...(p.dates.includes(-1) ? ["the last day"] : [])]);
  }
  if ("nth" in p) return listed(p.nth.map(([n, d]) => `the ${ordinal(n)} ${daysWords([d])}`));
  if (p.of.join(",") === WORKING) return `the ${ordinal(p.one)} working day`;
  return `the ${ordinal(p.one)} of all ${p.of.map((d) => `${daysWords([d])}s`).join(", ")}`;
}

/** What was picked in words: "every 2 weeks on Saturday at 02:00". */
export function pickedWords(p: Picked): string {
  const at = `at ${listed(p.times)}`;
  const months = p.months.length > 0 ? ` in ${listed(p.months.map((m) => MONTHS[m - 1] as string))}` : "";
  if (p.by === "day") return `${p.every === 1 ? "every day" : `every ${p.every} days`}${months} ${at}`;
  if (p.by === "week") {
    const days =
      p.every === 1 ? `every ${daysWords(p.days)}` : `every ${p.every} weeks on ${plainDays(p.days)}`;
    return `${days}${months} ${at}`;
  }
  return `${p.every === 1 ? "every month" : `every ${p.every} months`} on ${monthWords(p)}${months} ${at}`;
}

const plainDays = (days: string[]) => listed(days.map((d) => daysWords([d])));
