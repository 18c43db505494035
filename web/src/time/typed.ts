import { Temporal } from "temporal-polyfill";

const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
const NAMES = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** How a moment is typed, for instance. */
export const MOMENT_FOR_INSTANCE = "24 Nov 2026 22:00";
/** How a date is typed, for instance. */
export const DATE_FOR_INSTANCE = "24 Nov 2026";

const two = (n: number) => String(n).padStart(2, "0");

/** "24 Nov 2026", "24 Nov" of this year, or "2026-11-24", as an ISO date; undefined where it is none. */
export function dateOf(text: string): string | undefined {
  const said = /^(\d{1,2})\.? +([a-z]{3})[a-z]*\.?(?: +(\d{4}))?$/i.exec(text.trim());
  const iso = said
    ? `${said[3] ?? new Date().getFullYear()}-${two(MONTHS.indexOf((said[2] ?? "").toLowerCase()) + 1)}-${two(Number(said[1]))}`
    : text.trim();
  try {
    return /^\d{4}-\d\d-\d\d$/.test(iso)
      ? Temporal.PlainDate.from(iso, { overflow: "reject" }).toString()
      : undefined;
  } catch {
    return undefined;
  }
}

/** "22:00" or "7:05" as a time of the day on 24 hours; undefined where it is none. */
export function timeOf(text: string): string | undefined {
  const said = /^(\d{1,2}):(\d\d)$/.exec(text.trim());
  const [hour, minute] = [Number(said?.[1]), Number(said?.[2])];
  return said && hour < 24 && minute < 60 ? `${two(hour)}:${two(minute)}` : undefined;
}

/**
 * The instant a typed moment in a zone stands for: "24 Nov 2026 22:00", "24 Nov 22:00:30", "2026-11-24 22:00", or one with a zone of its
 * own as RFC 3339 has it. Of a local time that occurs twice the first. Undefined where it is none.
 */
export function instantOf(text: string, zone: string): string | undefined {
  const typed = text.trim();
  try {
    if (/(Z|[+-]\d\d:\d\d)$/i.test(typed)) return Temporal.Instant.from(typed).toString();
    const said = /^(.*\S)[ ,T]+(\d{1,2}:\d\d(?::\d\d)?)$/.exec(typed);
    const date = dateOf((said?.[1] ?? "").replace(/,$/, ""));
    const time = (said?.[2] ?? "").padStart((said?.[2] ?? "").length > 5 ? 8 : 5, "0");
    if (!date) return undefined;
    return Temporal.PlainDateTime.from(`${date}T${time}`).toZonedDateTime(zone).toInstant().toString();
  } catch {
    return undefined;
  }
}

/** An instant as it is typed in a zone; with seconds where it has some. */
export function typedOf(instant: string, zone: string): string {
  const at = Temporal.Instant.from(instant).toZonedDateTimeISO(zone);
  const seconds = at.second === 0 ? "" : `:${two(at.second)}`;
  return `${at.day} ${NAMES[at.month - 1]} ${at.year} ${two(at.hour)}:${two(at.minute)}${seconds}`;
}

/** An ISO date as it is typed. */
export function typedDate(iso: string): string {
  const date = Temporal.PlainDate.from(iso);
  return `${date.day} ${NAMES[date.month - 1]} ${date.year}`;
}
