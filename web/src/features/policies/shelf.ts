import type { RetainDocument, ScheduleDocument } from "../../api/types";
import { weekly } from "./recurrence";
import { durationWords, isoSeconds } from "./values";

const DAY = 86_400;
const UNITS: [keyof NonNullable<RetainDocument["rungs"]>, number, string, string][] = [
  ["day", DAY, "daily", "dailies"],
  ["week", 7 * DAY, "weekly", "weeklies"],
  ["month", 30.44 * DAY, "monthly", "monthlies"],
  ["year", 365.25 * DAY, "yearly", "yearlies"],
];

/** What one rule retains, as ages in seconds. */
export type Kept = {
  role: string;
  reach: number;
  fulls: number[];
  rungs: number[];
  lock: number;
  atMost: number;
  says: string;
};

const seconds = (iso: string | undefined) => (iso === undefined ? 0 : (isoSeconds(iso) ?? 0));

/**
 * A rule as it looks on a shelf by age.
 *
 * @param fullEvery how far apart fulls are scheduled, in seconds; null where none is
 */
export function kept(rule: RetainDocument, fullEvery: number | null): Kept {
  const reach = seconds(rule.reach);
  const fulls =
    fullEvery === null ? [] : Array.from({ length: Math.min(rule.fulls ?? 0, 60) }, (_, n) => n * fullEvery);
  const rungs = UNITS.flatMap(([unit, apart]) =>
    Array.from({ length: Math.min(rule.rungs?.[unit] ?? 0, 60) }, (_, n) => (n + 1) * apart),
  );
  const parts = [
    reach > 0 && `every moment of ${durationWords(rule.reach ?? "")}`,
    rule.fulls && `${rule.fulls} ${rule.fulls === 1 ? "full" : "fulls"}`,
    ...UNITS.map(([unit, , one, many]) => {
      const n = rule.rungs?.[unit];
      return n && `${n} ${n === 1 ? one : many}`;
    }),
  ].filter(Boolean);
  const lock = seconds(rule.lock);
  return {
    role: rule.role ?? "near",
    reach,
    fulls,
    rungs,
    lock,
    atMost: seconds(rule.atMost),
    says:
      `${rule.role ?? "near"}: ${parts.length > 0 ? parts.join(", ") : "nothing"}` +
      (lock > 0 ? `; locked ${durationWords(rule.lock ?? "")}` : ""),
  };
}

/** How far apart fulls are scheduled, in seconds, on the average of a week; those of no plain week count as monthly. */
export function fullsApart(schedules: ScheduleDocument[]): number | null {
  const fulls = schedules.filter((s) => s.kind === "full" && s.enabled !== false);
  if (fulls.length === 0) return null;
  const perWeek = fulls.map((s) => weekly(s)?.days.length ?? 7 / 30.44).reduce((a, b) => a + b, 0);
  return (7 * DAY) / perWeek;
}

/** The furthest age any rule speaks of, at least two days. */
export const furthest = (rules: Kept[]) =>
  Math.max(2 * DAY, ...rules.flatMap((r) => [r.reach, r.lock, r.atMost, ...r.fulls, ...r.rungs])) * 1.1;
