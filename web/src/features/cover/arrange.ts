import type { HazardNow, Row } from "../../api/types";
import { leastAttained, overObjective } from "../../ribbon/grade";

export type Grouping = "policy" | "site" | "engine" | "none";
export type Order = "name" | "age" | "reach" | "attainment";
export type Hazard = "mishap" | "siteLoss" | "sabotage";

export type Group = { title: string; promise: string; rows: Row[] };

export function hazardOf(row: Row, hazard: Hazard): HazardNow | undefined {
  return row.hazards.find((h) => h.hazard === hazard);
}

function compare(order: Order): (a: Row, b: Row) => number {
  const byName = (a: Row, b: Row) => a.name.localeCompare(b.name);
  if (order === "age") return (a, b) => overObjective(b) - overObjective(a) || byName(a, b);
  if (order === "reach") return (a, b) => a.reachSeconds - b.reachSeconds || byName(a, b);
  if (order === "attainment") return (a, b) => leastAttained(a) - leastAttained(b) || byName(a, b);
  return byName;
}

/** The fleet in groups, each in the order asked for; databases without a policy stand first. */
export function arrange(rows: Row[], by: Grouping, order: Order, hazard: Hazard): Group[] {
  const groups = new Map<string, Group>();
  for (const row of rows) {
    const [title, promise] = nameOf(row, by);
    const group = groups.get(title) ?? { title, promise, rows: [] };
    group.rows.push(row);
    groups.set(title, group);
  }
  const rank = (g: Group) => (by === "policy" && g.rows[0]?.policy === null ? 0 : 1);
  return [...groups.values()]
    .map((g) => ({ ...g, rows: [...g.rows].sort(compare(order)) }))
    .sort(
      (a, b) =>
        rank(a) - rank(b) || strictest(a, hazard) - strictest(b, hazard) || a.title.localeCompare(b.title),
    );
}

function nameOf(row: Row, by: Grouping): [string, string] {
  if (by === "site") return [row.site || "no site", ""];
  if (by === "engine") return [row.engine || "engine not stated", ""];
  if (by === "none") return ["All databases", ""];
  if (row.policy === null) return ["No policy", "nothing is promised, nothing is purged"];
  return [row.policy.name, row.policy.enabled ? row.policy.promise : "switched off"];
}

/** The shortest objective in a group, so that the strictest promise stands first. */
function strictest(group: Group, hazard: Hazard): number {
  return Math.min(...group.rows.map((r) => hazardOf(r, hazard)?.objectiveSeconds ?? Number.MAX_SAFE_INTEGER));
}
