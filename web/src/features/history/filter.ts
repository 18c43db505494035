import type { Schemas } from "../../api/types";
import type { HistoryFilter } from "./api";

/** What one may choose by, in the order it is offered. */
export const FACETS = ["kind", "outcome", "policy", "site", "engine", "database"] as const;
export type FacetName = (typeof FACETS)[number];

const FIELDS = [...FACETS, "store", "words"] as const;

/** The filter an address asks for. */
export function filterOf(params: URLSearchParams): HistoryFilter {
  const out: HistoryFilter = {};
  for (const field of FIELDS) {
    const value = params.get(field);
    if (value) out[field] = value;
  }
  if (params.get("logs") === "all") out.logs = true;
  return out;
}

/** What is chosen in one matter. */
export function chosenIn(filter: HistoryFilter, facet: FacetName): string[] {
  return filter[facet]?.split(",").filter(Boolean) ?? [];
}

/** An address with one choice more, or less where it was chosen. */
export function toggled(params: URLSearchParams, facet: FacetName, value: string): URLSearchParams {
  const next = new URLSearchParams(params);
  const before = chosenIn(filterOf(params), facet);
  const after = before.includes(value) ? before.filter((v) => v !== value) : [...before, value];
  if (after.length > 0) next.set(facet, after.join(","));
  else next.delete(facet);
  return next;
}

/** The part of an address that says what of history is shown, and nothing of when. */
export function filterSearch(params: URLSearchParams): string {
  const kept = new URLSearchParams();
  for (const field of [...FIELDS, "logs"]) {
    const value = params.get(field);
    if (value) kept.set(field, value);
  }
  return kept.toString();
}

/** An address with another filter, its moment and period as they were. */
export function withFilter(params: URLSearchParams, search: string): URLSearchParams {
  const next = new URLSearchParams(params);
  for (const field of [...FIELDS, "logs"]) next.delete(field);
  new URLSearchParams(search).forEach((value, field) => next.set(field, value));
  return next;
}

const KEY = "firth:history-filters";
export type Saved = { name: string; search: string };

/** Filters kept by name in this browser. */
export function savedFilters(): Saved[] {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEY) ?? "[]");
    return Array.isArray(found)
      ? found.filter((f): f is Saved => typeof f === "object" && f !== null && "name" in f && "search" in f)
      : [];
  } catch {
    // What another program left under this name is no list of filters.
    return [];
  }
}

/** Keeps a filter under a name, in the place of one of that name. */
export function saveFilter(filter: Saved): Saved[] {
  const next = [...savedFilters().filter((f) => f.name !== filter.name), filter];
  localStorage.setItem(KEY, JSON.stringify(next));
  return next;
}

export function forgetFilter(name: string): Saved[] {
  const next = savedFilters().filter((f) => f.name !== name);
  localStorage.setItem(KEY, JSON.stringify(next));
  return next;
}

/** Kinds of line as people say them. */
export const isKind = (word: string): word is Schemas["Line"]["kind"] => word in KIND_NAMES;

export const KIND_NAMES: Record<Schemas["Line"]["kind"], string> = {
  full: "full",
  diff: "differential",
  incr: "incremental",
  log: "log",
  config: "config",
  drill: "drill",
  restore: "restore",
};
