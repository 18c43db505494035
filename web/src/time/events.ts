import type { Outside } from "../api/types";
import { isoSecond } from "./view";

/** The moments at which the share of the fleet outside its objective had changed, in order. */
export function changes(outside: Outside[]): number[] {
  const slices = [...outside].sort((a, b) => Date.parse(a.from) - Date.parse(b.from));
  const out = slices
    .filter((s, i) => i > 0 && s.databases !== slices[i - 1]?.databases)
    .map((s) => Date.parse(s.to));
  return [...new Set(out)];
}

/** The nearest of those moments before or after one; after the last, the newest facts. */
export function stepped(outside: Outside[], asOf: string, by: 1 | -1): string | null {
  const at = Date.parse(asOf);
  const all = changes(outside);
  const next = by > 0 ? all.find((c) => c > at) : all.filter((c) => c < at).at(-1);
  if (next !== undefined) return isoSecond(next);
  return by > 0 ? null : asOf;
}
