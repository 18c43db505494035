/** A duration in seconds as people say it: "4 min", "50 h 6 min", "12 d 1 h". */
export function duration(seconds: number): string {
  const s = Math.floor(Math.max(0, seconds));
  if (s < 60) return `${s} s`;
  if (s < 3600) return `${Math.floor(s / 60)} min`;
  const minutes = Math.floor(s / 60) % 60;
  if (s < 72 * 3600) return `${Math.floor(s / 3600)} h${minutes === 0 ? "" : ` ${minutes} min`}`;
  const days = Math.floor(s / 86400);
  const hours = Math.floor(s / 3600) % 24;
  return hours === 0 ? `${days} d` : `${days} d ${hours} h`;
}

/** A promise in seconds, without the minutes a measured duration would show: "4 h", "18 d". */
export function promise(seconds: number): string {
  if (seconds % 86400 === 0 && seconds >= 2 * 86400) return `${seconds / 86400} d`;
  if (seconds % 3600 === 0 && seconds > 0) return `${seconds / 3600} h`;
  return duration(seconds);
}

/** Bytes in decimal units. */
export function size(bytes: number): string {
  const units = ["B", "kB", "MB", "GB", "TB", "PB"];
  let value = bytes;
  let unit = 0;
  while (value >= 999.5 && unit < units.length - 1) {
    value /= 1000;
    unit++;
  }
  return `${value >= 100 || unit === 0 ? Math.round(value) : value.toPrecision(2)} ${units[unit]}`;
}

const formats = new Map<string, Intl.DateTimeFormat>();

function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = zone + JSON.stringify(options);
  let found = formats.get(key);
  if (!found) {
    found = new Intl.DateTimeFormat("en-GB", { timeZone: zone, ...options });
    formats.set(key, found);
  }
  return found;
}

export const viewerZone = Intl.DateTimeFormat().resolvedOptions().timeZone;

type Moment = string | number | Date;

/** "9 Nov 15:40" in a zone. */
export function moment(at: Moment, zone: string): string {
  const date = new Date(at);
  const day = format(zone, { day: "numeric", month: "short" }).format(date);
  const time = format(zone, { hour: "2-digit", minute: "2-digit" }).format(date);
  return `${day} ${time}`;
}

/** "Mon 23 Nov, 09:12" in a zone. */
export function longMoment(at: Moment, zone: string): string {
  const date = new Date(at);
  const day = format(zone, { weekday: "short", day: "numeric", month: "short" })
    .format(date)
    .replace(",", "");
  const time = format(zone, { hour: "2-digit", minute: "2-digit" }).format(date);
  return `${day}, ${time}`;
}

/** "24 Oct" in a zone. */
export function day(at: Moment, zone: string): string {
  return format(zone, { day: "numeric", month: "short" }).format(new Date(at));
}

/** "09:12" in a zone. */
export function time(at: Moment, zone: string): string {
  return format(zone, { hour: "2-digit", minute: "2-digit" }).format(new Date(at));
}

/** "09:12:40" where the page is read. */
export function timeOfDay(at: Moment): string {
  return format(viewerZone, { hour: "2-digit", minute: "2-digit", second: "2-digit" }).format(new Date(at));
}

/** "24 Oct", with the year where that is not this one: "24 Oct 2025". */
export function date(at: Moment, zone: string): string {
  const year = format(zone, { year: "numeric" });
  const same = year.format(new Date(at)) === year.format(new Date());
  return same ? day(at, zone) : `${day(at, zone)} ${year.format(new Date(at))}`;
}

/** Two moments, the day of the second left out where it is the same. */
export function span(from: Moment, to: Moment, zone: string): string {
  const sameDay = day(from, zone) === day(to, zone);
  const end = sameDay
    ? format(zone, { hour: "2-digit", minute: "2-digit" }).format(new Date(to))
    : moment(to, zone);
  return `${moment(from, zone)} – ${end}`;
}

/** "last 30 days", "last day" */
export const lastDays = (days: number) => (days === 1 ? "last day" : `last ${days} days`);

/** A number with narrow spaces that do not break between thousands. */
export function count(n: number): string {
  return n.toLocaleString("en-GB").replaceAll(",", "\u202f");
}
