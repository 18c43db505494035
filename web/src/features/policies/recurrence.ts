import { pickCron, pickedWords, pickRule, type Picked } from "./picked";
import { DAYS } from "./values";
import type { ScheduleDocument } from "./document";

/** Some days of every week at one time: what most schedules are. */
export type Weekly = { days: string[]; time: string };

/** The days and time of a rule or cron line that says no more than that; null of any other. */
export function weekly(schedule: ScheduleDocument): Weekly | null {
  const p = picked(schedule);
  const time = p?.times[0];
  if (!p || !time || p.times.length > 1 || p.every > 1 || p.months.length > 0 || p.by === "month")
    return null;
  return { days: p.by === "day" ? [...DAYS] : p.days, time };
}

/** What of a schedule's recurrence can be picked and said; null where it says something else. */
export function picked(schedule: ScheduleDocument): Picked | null {
  if (schedule.cron) return pickCron(schedule.cron);
  return schedule.rrule ? pickRule(schedule.rrule) : null;
}

/** An RFC 5545 rule for some days of every week at a time. */
export function weeklyRuleOf({ days, time }: Weekly): string {
  const [hour, minute] = time.split(":").map(Number);
  const by = days.length === 7 ? "FREQ=DAILY" : `FREQ=WEEKLY;BYDAY=${days.join(",")}`;
  return `${by};BYHOUR=${hour};BYMINUTE=${minute}`;
}

/** The same days and time so many minutes later; past midnight the days move with it. */
export function shifted({ days, time }: Weekly, minutes: number): Weekly {
  const [hour, minute] = time.split(":").map(Number) as [number, number];
  const at = hour * 60 + minute + minutes;
  const over = Math.floor(at / 1440);
  const left = at - over * 1440;
  const moved = new Set(days.map((d) => DAYS[(DAYS.indexOf(d as (typeof DAYS)[number]) + over + 70) % 7]));
  const two = (n: number) => String(n).padStart(2, "0");
  return { days: DAYS.filter((d) => moved.has(d)), time: `${two(Math.floor(left / 60))}:${two(left % 60)}` };
}

/** "Sat 7 Mar 2026" of "2026-03-07". */
function dateWords(iso: string): string {
  const day = new Date(`${iso}T00:00:00Z`);
  if (Number.isNaN(day.getTime())) return iso;
  const part = (options: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat("en-GB", { ...options, timeZone: "UTC" }).format(day);
  return `${part({ weekday: "short" })} ${part({ day: "numeric" })} ${part({ month: "short" })} ${part({ year: "numeric" })}`;
}

/** A schedule's recurrence read back in words: "every Saturday at 22:40"; as it is written where no words here say it. */
export function recurrenceWords(schedule: ScheduleDocument): string {
  const found = picked(schedule);
  if (found) {
    const from = found.every > 1 && schedule.anchor;
    return `${pickedWords(found)}${from ? `, counted from ${dateWords(from)}` : ""}`;
  }
  if (schedule.cron) return `by the cron line ${schedule.cron}`;
  return schedule.rrule ? `by the rule ${schedule.rrule}` : "never";
}

/** What somebody typed or pasted as a recurrence, in the field of the document it belongs in. */
export function asRecurrence(text: string): Pick<ScheduleDocument, "rrule" | "cron"> {
  const typed = text.trim().replace(/^RRULE:/i, "");
  return /FREQ=/i.test(typed) ? { rrule: typed } : { cron: typed };
}

/** Today, where whoever looks at it is. */
export const today = () => new Intl.DateTimeFormat("en-CA").format(new Date());

/**
 * The date a schedule counts its intervals from: the one it names, the one it has counted from so far, or today where its rule is new.
 *
 * @param before the schedule as it is in force
 * @param since from when on that version has been
 */
export function countsFrom(
  schedule: ScheduleDocument,
  before: ScheduleDocument | undefined,
  since: string | undefined,
): string {
  if (schedule.anchor) return schedule.anchor;
  if (before?.rrule !== undefined && before.rrule === schedule.rrule)
    return before.anchor ?? since?.slice(0, 10) ?? today();
  return today();
}
