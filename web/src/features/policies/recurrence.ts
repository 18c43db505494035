import { toString as cronWords } from "cronstrue";
import { RRule } from "rrule";
import { DAYS, daysWords } from "./values";
import type { ScheduleDocument } from "./document";

/** Some days of every week at one time: what most schedules are. */
export type Weekly = { days: string[]; time: string };

/** The days and time of a rule or cron line that says no more than that; null of any other. */
export function weekly(schedule: ScheduleDocument): Weekly | null {
  if (schedule.cron) return weeklyCron(schedule.cron);
  return schedule.rrule ? weeklyRule(schedule.rrule) : null;
}

function weeklyRule(rule: string): Weekly | null {
  const parts = new Map(
    rule
      .toUpperCase()
      .replace(/^RRULE:/, "")
      .split(";")
      .map((p) => p.split("=") as [string, string]),
  );
  const hour = parts.get("BYHOUR");
  const minute = parts.get("BYMINUTE") ?? "0";
  const freq = parts.get("FREQ");
  const known = ["FREQ", "BYDAY", "BYHOUR", "BYMINUTE", "BYSECOND", "INTERVAL"];
  const plain =
    [...parts.keys()].every((k) => known.includes(k)) &&
    (parts.get("INTERVAL") ?? "1") === "1" &&
    (parts.get("BYSECOND") ?? "0") === "0";
  if (!plain || !hour || !/^\d+$/.test(hour) || !/^\d+$/.test(minute)) return null;
  const days = parts.get("BYDAY")?.split(",") ?? (freq === "DAILY" ? [...DAYS] : null);
  if (!days || !(freq === "WEEKLY" || freq === "DAILY")) return null;
  if (!days.every((d) => (DAYS as readonly string[]).includes(d))) return null;
  return { days, time: `${hour.padStart(2, "0")}:${minute.padStart(2, "0")}` };
}

/** A cron line's days, counted from Sunday. */
function weeklyCron(line: string): Weekly | null {
  const [minute, hour, date, month, weekday, ...more] = line.trim().split(/\s+/);
  if (more.length > 0 || date !== "*" || month !== "*" || weekday === undefined) return null;
  if (!/^\d+$/.test(minute ?? "") || !/^\d+$/.test(hour ?? "")) return null;
  const days = new Set<string>();
  for (const part of (weekday === "*" ? "0-6" : weekday).split(",")) {
    const m = /^([0-7])(?:-([0-7]))?$/.exec(part);
    if (!m) return null;
    for (let d = Number(m[1]); d <= Number(m[2] ?? m[1]); d++) days.add(DAYS[(d + 6) % 7] as string);
  }
  return {
    days: DAYS.filter((d) => days.has(d)),
    time: `${(hour as string).padStart(2, "0")}:${(minute as string).padStart(2, "0")}`,
  };
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

/** A schedule's recurrence read back in words: "every Saturday at 22:40". */
export function recurrenceWords(schedule: ScheduleDocument): string {
  const plain = weekly(schedule);
  if (plain) return `every ${daysWords(plain.days)} at ${plain.time}`;
  if (schedule.cron) {
    try {
      const words = cronWords(schedule.cron, { use24HourTimeFormat: true, verbose: false });
      return words.charAt(0).toLowerCase() + words.slice(1);
    } catch {
      return schedule.cron;
    }
  }
  return schedule.rrule ? ruleWords(schedule.rrule) : "never";
}

function ruleWords(rule: string): string {
  const hours = /BYHOUR=([\d,]+)/i.exec(rule)?.[1]?.split(",") ?? [];
  const minutes = /BYMINUTE=([\d,]+)/i.exec(rule)?.[1]?.split(",") ?? ["0"];
  const times = hours.flatMap((h) => minutes.map((m) => `${h.padStart(2, "0")}:${m.padStart(2, "0")}`));
  try {
    const dates = rule
      .replace(/^RRULE:/i, "")
      .split(";")
      .filter((p) => !/^BY(HOUR|MINUTE|SECOND)=/i.test(p))
      .join(";");
    const words = RRule.fromString(dates).toText();
    return `${words} at ${times.join(", ")}`;
  } catch {
    return rule;
  }
}

/** What somebody typed or pasted as a recurrence, in the field of the document it belongs in. */
export function asRecurrence(text: string): Pick<ScheduleDocument, "rrule" | "cron"> {
  const typed = text.trim().replace(/^RRULE:/i, "");
  return /FREQ=/i.test(typed) ? { rrule: typed } : { cron: typed };
}
