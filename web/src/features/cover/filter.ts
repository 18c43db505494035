import type { Row } from "../../api/types";

/** What of the fleet is asked for; an empty value asks for all. Kept in the address under these names. */
export const FILTERS = ["words", "grade", "policy", "site", "engine", "label"] as const;
export type FilterName = (typeof FILTERS)[number];
export type Filter = Record<FilterName, string>;

export function filterOf(params: URLSearchParams): Filter {
  return Object.fromEntries(FILTERS.map((f) => [f, params.get(f) ?? ""])) as Filter;
}

export const NO_POLICY = "no policy";

/** What a row has of a kind; it passes a filter that asks for any of it. */
const HAS: Record<Exclude<FilterName, "words">, (row: Row) => string[]> = {
  grade: (r) => [r.grade],
  policy: (r) => [r.policy?.name ?? NO_POLICY],
  site: (r) => [r.site || "no site"],
  engine: (r) => [r.engine || "not stated"],
  label: (r) => [...r.labels, ...(r.owner ? [`owner: ${r.owner}`] : [])],
};

export const CHOICES = Object.keys(HAS) as Exclude<FilterName, "words">[];

export function chosenRows(rows: Row[], filter: Filter): Row[] {
  const words = filter.words.toLowerCase().split(/\s+/).filter(Boolean);
  return rows.filter((r) => {
    const text = [r.id, r.name, ...CHOICES.flatMap((c) => HAS[c](r))].join(" ").toLowerCase();
    return (
      words.every((w) => text.includes(w)) &&
      CHOICES.every((c) => !filter[c] || HAS[c](r).includes(filter[c]))
    );
  });
}

/** What there is to choose of a kind, with how many databases have it. */
export function choicesOf(rows: Row[], kind: Exclude<FilterName, "words">): [value: string, count: number][] {
  const counts = new Map<string, number>();
  for (const row of rows) for (const value of HAS[kind](row)) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort(([a], [b]) => a.localeCompare(b));
}
