import type { GapRow } from "../../api/types";
import { duration } from "../../time/words";

export type Asked = { words: string; state: string; reach: string };

/** The gaps that are asked for, in the order the server gives them: unbridged first, then those inside reach. */
export function chosenGaps(rows: GapRow[], asked: Asked): GapRow[] {
  const words = asked.words.toLowerCase().split(/\s+/).filter(Boolean);
  return rows.filter((r) => {
    const text =
      `${r.name} ${r.database} ${r.policy ?? ""} ${r.storeName} ${r.gap.cause} ${r.gap.bridgedBy ?? ""}`.toLowerCase();
    return (
      words.every((w) => text.includes(w)) &&
      (!asked.state || r.gap.state === asked.state) &&
      (!asked.reach || r.inside === (asked.reach === "inside"))
    );
  });
}

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

/** "3 gaps in 2 databases; 1 of them is unbridged" */
export function tally(rows: GapRow[]): string {
  const databases = new Set(rows.map((r) => r.database)).size;
  const unbridged = rows.filter((r) => r.gap.state === "unbridged").length;
  const stopped = rows.filter((r) => r.gap.state === "open").length;
  const gaps = `${rows.length} ${rows.length === 1 ? "gap" : "gaps"}`;
  const where = `${databases} ${databases === 1 ? "database" : "databases"}`;
  const states = [stopped > 0 ? `${stopped} open` : "", unbridged > 0 ? `${unbridged} unbridged` : ""];
  return `${gaps} in ${where}; ${states.filter(Boolean).join(", ") || "all are bridged"}`;
}
