import type { GapRow } from "../../api/client";
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

/** How long a hole is; one that is open at an end has no length. */
export function length(row: GapRow): string {
  const { after, before } = row.gap;
  if (!after || !before) return "open";
  return duration((Date.parse(before) - Date.parse(after)) / 1000);
}

/** "3 gaps in 2 databases; 1 of them is unbridged" */
export function tally(rows: GapRow[]): string {
  const databases = new Set(rows.map((r) => r.database)).size;
  const open = rows.filter((r) => r.gap.state === "unbridged").length;
  const gaps = `${rows.length} ${rows.length === 1 ? "gap" : "gaps"}`;
  const where = `${databases} ${databases === 1 ? "database" : "databases"}`;
  return `${gaps} in ${where}; ${open === 0 ? "all are bridged" : `${open} unbridged`}`;
}
