import type { WeekBar } from "../../api/types";

export const DAY = 86_400_000;
const HOUR = 3_600_000;

/** A night, noon to noon; 23 or 25 hours long when the clocks change in it. */
export type Night = { from: number; to: number };

/** The nights from a noon on, by the clock of a zone. */
export function nights(from: string, to: string, zone: string): Night[] {
  const end = Date.parse(to);
  const out: Night[] = [];
  for (let at = Date.parse(from); at < end;) {
    const next = nextNoon(at, zone);
    out.push({ from: at, to: next });
    at = next;
  }
  return out;
}

/** The noon after a noon: a day later by the clock of the zone. */
export function nextNoon(noon: number, zone: string): number {
  for (const hours of [24, 23, 25]) {
    const at = noon + hours * HOUR;
    if (hourIn(at, zone) === hourIn(noon, zone)) return at;
  }
  return noon + DAY;
}

function hourIn(at: number, zone: string): string {
  return new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", minute: "2-digit" }).format(at);
}

/** The whole hours of a night that are named on its axis. */
export function ticks(night: Night): number[] {
  const out: number[] = [];
  for (let at = night.from; at <= night.to; at += 2 * HOUR) out.push(at);
  return out;
}

export type Placed = { bar: WeekBar; lane: number; from: number; to: number; late: number; label: number };

const LETTER = 6.4;

/**
 * Puts the bars of a night into as few lanes as keep every name readable. Bars run as long as they usually do, at least as
 * long as can be seen.
 */
export function place(bars: WeekBar[], night: Night, width: number): { placed: Placed[]; lanes: number } {
  const perMs = width / (night.to - night.from);
  const least = 4 / perMs;
  const ends: number[] = [];
  const placed: Placed[] = [];
  const own = bars
    .filter((b) => Date.parse(b.open) >= night.from && Date.parse(b.open) < night.to)
    .sort((a, b) => a.open.localeCompare(b.open) || a.name.localeCompare(b.name));
  for (const bar of own) {
    const from = Date.parse(bar.open);
    const to = from + Math.max(least, (bar.medianSeconds ?? 0) * 1000);
    const late = Math.max(to, from + (bar.longestSeconds ?? 0) * 1000);
    const label = bar.name.length * LETTER + 10;
    const begin = from - label / perMs;
    const free = ends.findIndex((e) => e <= begin);
    const lane = free < 0 ? ends.length : free;
    ends[lane] = Math.max(late, Date.parse(bar.close)) + 6 / perMs;
    placed.push({ bar, lane, from, to, late, label });
  }
  return { placed, lanes: ends.length };
}

/** The part of a stretch that lies in a night, or null. */
export function within(from: string, to: string, night: Night): { from: number; to: number } | null {
  const begin = Math.max(night.from, Date.parse(from));
  const end = Math.min(night.to, Date.parse(to));
  return end > begin ? { from: begin, to: end } : null;
}
