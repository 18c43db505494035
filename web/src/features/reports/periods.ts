import { Temporal } from "temporal-polyfill";
import { dateOf } from "../../time/typed";

/** Periods people ask reports for, as calendar stretches in a zone. */
export const PERIODS: [id: string, text: string][] = [
  ["last-week", "last week"],
  ["last-month", "last month"],
  ["last-quarter", "last quarter"],
  ["this-month", "this month so far"],
  ["own", "from … to …"],
];

const instant = (date: Temporal.PlainDate, zone: string) => date.toZonedDateTime(zone).toInstant().toString();

/** Where a period begins and ends, for somebody in a zone at a moment. */
export function stretch(period: string, now: string, zone: string): { from: string; to: string } {
  const today = Temporal.Instant.from(now).toZonedDateTimeISO(zone).toPlainDate();
  const month = today.with({ day: 1 });
  const [from, to] = ((): [Temporal.PlainDate, Temporal.PlainDate] => {
    switch (period) {
      case "last-week": {
        const monday = today.subtract({ days: today.dayOfWeek - 1 });
        return [monday.subtract({ days: 7 }), monday];
      }
      case "last-quarter": {
        const quarter = month.subtract({ months: (month.month - 1) % 3 });
        return [quarter.subtract({ months: 3 }), quarter];
      }
      case "this-month":
        return [month, month.add({ months: 1 })];
      default:
        return [month.subtract({ months: 1 }), month];
    }
  })();
  return { from: instant(from, zone), to: instant(to, zone) };
}

/** The instants two dates stand for, the second to its end; undefined where they are none. */
export function between(from: string, to: string, zone: string): { from: string; to: string } | undefined {
  try {
    const begin = Temporal.PlainDate.from(dateOf(from) ?? "");
    const end = Temporal.PlainDate.from(dateOf(to) ?? "");
    if (Temporal.PlainDate.compare(begin, end) > 0) return undefined;
    return { from: instant(begin, zone), to: instant(end.add({ days: 1 }), zone) };
  } catch {
    return undefined;
  }
}
