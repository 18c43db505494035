/** Values as people type and read them, and as the exchange format writes them. */

const UNITS: Record<string, number> = {
  s: 1,
  sec: 1,
  second: 1,
  seconds: 1,
  min: 60,
  m: 60,
  minute: 60,
  minutes: 60,
  h: 3600,
  hour: 3600,
  hours: 3600,
  d: 86400,
  day: 86400,
  days: 86400,
  w: 604800,
  week: 604800,
  weeks: 604800,
  month: 31 * 86400,
  months: 31 * 86400,
  year: 366 * 86400,
  years: 366 * 86400,
  y: 366 * 86400,
};

const YEAR = 366 * 86400;

const ISO = /^P(?:(\d+)Y)?(?:(\d+)M)?(?:(\d+)W)?(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+)S)?)?$/;
const ISO_SECONDS = [YEAR, 31 * 86400, 604800, 86400, 3600, 60, 1] as const;

/** Seconds of an ISO 8601 duration, a month as 31 days and a year as 366 (docs/exchange.md); null of anything else. */
export function isoSeconds(iso: string): number | null {
  const m = ISO.exec(iso.trim().toUpperCase());
  const parts: (string | undefined)[] = m?.slice(1) ?? [];
  if (parts.every((p) => p === undefined)) return null;
  return parts.reduce((sum, p, i) => sum + Number(p ?? 0) * (ISO_SECONDS[i] as number), 0);
}

export function secondsIso(seconds: number): string {
  if (seconds > 0 && seconds % 86400 === 0) return `P${seconds / 86400}D`;
  if (seconds % 3600 === 0) return `PT${seconds / 3600}H`;
  return seconds % 60 === 0 ? `PT${seconds / 60}M` : `PT${seconds}S`;
}

/** "10 min", "4 h", "1 day", "18 days", "2 years", "1 h 30 min" of an ISO duration; the text itself where it is none. */
export function durationWords(iso: string): string {
  const s = isoSeconds(iso);
  if (s === null) return iso;
  if (s > 0 && s % YEAR === 0) return s === YEAR ? "1 year" : `${s / YEAR} years`;
  if (s > 0 && s % 86400 === 0) return s === 86400 ? "1 day" : `${s / 86400} days`;
  if (s > 0 && s % 3600 === 0) return `${s / 3600} h`;
  if (s >= 3600 && s % 60 === 0) return `${Math.floor(s / 3600)} h ${(s % 3600) / 60} min`;
  return s % 60 === 0 ? `${s / 60} min` : `${s} s`;
}

/** An ISO duration of what somebody typed: "10 min", "4h", "1 h 30", "2 weeks", "3 months", "7 years", "PT10M"; null where it is none. */
export function readDuration(text: string): string | null {
  const typed = text.trim();
  if (isoSeconds(typed) !== null) return secondsIso(isoSeconds(typed) as number);
  const short = /^(\d+)\s*h\s*(\d{1,2})$/i.exec(typed);
  if (short) return secondsIso(Number(short[1]) * 3600 + Number(short[2]) * 60);
  const parts = [...typed.matchAll(/(\d+)\s*([a-z]+)\s*/gi)];
  if (parts.length === 0 || parts.map((p) => p[0]).join("") !== typed) return null;
  let seconds = 0;
  for (const p of parts) {
    const unit = UNITS[(p[2] as string).toLowerCase()];
    if (unit === undefined) return null;
    seconds += Number(p[1]) * unit;
  }
  return secondsIso(seconds);
}

/** "22:40" of what somebody typed: "22:40", "22.40", "9:05"; null where it is no time of day. */
export function readTime(text: string): string | null {
  const m = /^(\d{1,2})[:.](\d{2})$/.exec(text.trim());
  if (!m || Number(m[1]) > 23 || Number(m[2]) > 59) return null;
  return `${(m[1] as string).padStart(2, "0")}:${m[2]}`;
}

export const DAYS = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"] as const;
const DAY_NAMES = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

export const dayName = (day: string) => DAY_NAMES[DAYS.indexOf(day as (typeof DAYS)[number])] ?? day;

/** "night", "Saturday", "Monday to Friday", "Saturday and Sunday", "day but Saturday". */
export function daysWords(days: readonly string[]): string {
  const set = DAYS.filter((d) => days.includes(d));
  if (set.length === 7) return "day";
  if (set.length === 6) return `day but ${dayName(DAYS.find((d) => !days.includes(d)) as string)}`;
  if (set.length === 0) return "no day";
  const first = DAYS.indexOf(set[0] as (typeof DAYS)[number]);
  const run = set.every((d, i) => DAYS.indexOf(d) === first + i);
  if (run && set.length > 2)
    return `${dayName(set[0] as string)} to ${dayName(set[set.length - 1] as string)}`;
  const names = set.map(dayName);
  return names.length === 1
    ? (names[0] as string)
    : `${names.slice(0, -1).join(", ")} and ${names[names.length - 1]}`;
}
