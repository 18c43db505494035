import type { GapRow, GapsView } from "../../api/types";
import { count, duration } from "../../time/words";

/** How long a hole is; where logs have stopped, how long so far; where an end is not known, it has no length. */
export function length(row: GapRow, asOf: string): string {
  const { after, before, state } = row.gap;
  if (after && state === "open") return `${duration((Date.parse(asOf) - Date.parse(after)) / 1000)} so far`;
  if (!after || !before) return "open";
  return duration((Date.parse(before) - Date.parse(after)) / 1000);
}

/** How long, for it, nothing can be restored: that is more than the hole where what follows is useless, and may be nothing. */
export function lost(row: GapRow, asOf: string): string {
  if (!row.lostFrom) return "nothing";
  const length = duration((Date.parse(row.lostTo ?? asOf) - Date.parse(row.lostFrom)) / 1000);
  return row.lostTo ? length : `${length} so far`;
}

/** "3 gaps in 2 databases; 1 unbridged" */
export function tally({ gaps, databases, open, unbridged }: GapsView["all"]): string {
  const some = (n: number, one: string) => `${count(n)} ${one}${n === 1 ? "" : "s"}`;
  const states = [
    open > 0 ? `${count(open)} open` : "",
    unbridged > 0 ? `${count(unbridged)} unbridged` : "",
  ];
  return `${some(gaps, "gap")} in ${some(databases, "database")}; ${states.filter(Boolean).join(", ") || "all are bridged"}`;
}
