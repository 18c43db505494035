import type { HazardNow, Row } from "../../api/types";

export type Grouping = "policy" | "site" | "engine" | "none";
export type Order = "name" | "age" | "reach" | "attainment";
export type Hazard = "mishap" | "siteLoss" | "sabotage";

/** What of the fleet is asked for; an empty value asks for all. Kept in the address under these names. */
export const FILTERS = ["words", "grade", "policy", "site", "engine", "label"] as const;
export type FilterName = (typeof FILTERS)[number];
export type Filter = Record<FilterName, string>;

/** What the address asks of the fleet. */
export function askedOf(params: URLSearchParams): Filter & { by: string; order: string; hazard: string } {
  const filter = Object.fromEntries(FILTERS.map((f) => [f, params.get(f) ?? ""])) as Filter;
  return {
    ...filter,
    by: params.get("by") ?? "policy",
    order: params.get("order") ?? "name",
    hazard: params.get("hazard") ?? "mishap",
  };
}

export function hazardOf(row: Row, hazard: Hazard): HazardNow | undefined {
  return row.hazards.find((h) => h.hazard === hazard);
}
