import { scaleSymlog } from "d3-scale";
import type { DatabaseView } from "../../api/types";
import { duration, promise } from "../../time/words";

export type ShelfView = DatabaseView["shelves"][number];
export type Lying = ShelfView["backups"][number];

const DAY = 86_400;
const TICKS = [1, 3, 7, 14, 30, 60, 120, 240, 365, 3 * 365, 7 * 365].map((d) => d * DAY);

/** How old something is at the moment looked from, in seconds. */
export const ageOf = (at: string, asOf: string) => Math.max(0, (Date.parse(asOf) - Date.parse(at)) / 1000);

/** The age of the oldest thing on any shelf, or the furthest promise, with a little room. */
export function oldest(shelves: ShelfView[], asOf: string): number {
  const ages = shelves.flatMap((s) => [
    ...s.backups.map((b) => ageOf(b.at, asOf)),
    ...s.logs.map((l) => ageOf(l.from, asOf)),
    s.reachSeconds ?? 0,
  ]);
  return Math.max(2 * DAY, ...ages) * 1.08;
}

/** Puts ages on an axis that begins now on the left and gives the newest days the most room. */
export const shelfScale = (longest: number, width: number) =>
  scaleSymlog().constant(DAY).domain([0, longest]).range([0, width]);

/** Ages to name on the axis, so many that no two come close. */
export function shelfTicks(longest: number, width: number): { age: number; x: number; text: string }[] {
  const x = shelfScale(longest, width);
  let last = 0;
  return TICKS.filter((t) => t < longest).flatMap((age) => {
    const at = x(age);
    if (at - last < 54 || at > width - 20) return [];
    last = at;
    return [{ age, x: at, text: promise(age) }];
  });
}

/** A shelf as a sentence. */
export function shelfText(shelf: ShelfView, asOf: string): string {
  const of = (verdict: string) => shelf.backups.filter((b) => b.verdict === verdict).length;
  const logs = (verdict: string) =>
    shelf.logs.filter((l) => l.verdict === verdict).reduce((sum, l) => sum + l.logs, 0);
  const parts = ["needed", "obsolete", "unusable"]
    .filter((v) => of(v) + logs(v) > 0)
    .map((v) => `${of(v)} ${of(v) === 1 ? "backup" : "backups"} and ${logs(v)} logs ${v}`);
  const ages = [...shelf.backups.map((b) => b.at), ...shelf.logs.map((l) => l.from)].map((a) =>
    ageOf(a, asOf),
  );
  return `${shelf.name}: ${parts.join(", ")}; the oldest is ${duration(Math.max(0, ...ages))} old`;
}

/** One backup on a shelf in a sentence. */
export function lyingText(b: Lying, asOf: string): string {
  const marks = [
    b.held ? "held" : "",
    b.lockedUntil ? "locked" : "",
    ...b.rungs.map((r) => `${r} rung`),
  ].filter(Boolean);
  const why = b.reasons.filter((r) => !marks.includes(r) && !r.endsWith(" rung"));
  return `${b.id}, ${duration(ageOf(b.at, asOf))} old: ${[b.verdict, ...marks, ...why].join(", ")}`;
}
