import type { Wanted } from "./api";

/** What the address asks a plan for. */
export function wantedOf(params: URLSearchParams): Wanted {
  const out: Wanted = {};
  for (const name of ["moment", "positions", "lineage", "hazard", "component", "asOf"] as const) {
    const value = params.get(name);
    if (value) out[name] = value;
  }
  const lists = { store: "lostStore", site: "lostSite", copy: "lostCopy" } as const;
  for (const [name, key] of Object.entries(lists)) {
    const values = params.getAll(key);
    if (values.length > 0) out[name as keyof typeof lists] = values;
  }
  return out;
}
