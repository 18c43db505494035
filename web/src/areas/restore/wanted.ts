import { Temporal } from "temporal-polyfill";
import type { Wanted } from "../../api/restore";

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

/** The instant a local time in a zone stands for; of one that occurs twice the first. Undefined where it is none. */
export function instantOf(local: string, zone: string): string | undefined {
  try {
    return Temporal.PlainDateTime.from(local).toZonedDateTime(zone).toInstant().toString();
  } catch {
    return undefined;
  }
}

/** The local time in a zone, to the second, as a field for times has it. */
export function localOf(instant: string, zone: string): string {
  return Temporal.Instant.from(instant)
    .toZonedDateTimeISO(zone)
    .toPlainDateTime()
    .round({ smallestUnit: "second", roundingMode: "floor" })
    .toString({ smallestUnit: "second" });
}
