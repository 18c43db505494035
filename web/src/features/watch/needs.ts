import type { Schemas } from "../../api/types";
import type { Needed } from "./api";
import { duration } from "../../time/words";

export const KINDS: [kind: string, text: string][] = [
  ["", "every kind"],
  ["full", "fulls"],
  ["diff", "differentials"],
  ["incr", "incrementals"],
  ["log", "logs"],
  ["config", "config backups"],
];

/** Why a backup is needed, in words. */
export const WHY: Record<Schemas["NeededBackup"]["why"], string> = {
  nothing: "nothing can be restored",
  first: "new: its first backup is awaited",
  behind: "more would be lost than is promised",
  gap: "the newest logs follow a gap",
  component: "no backup that restores anything contains it",
  "slot-lost": "its slot failed or was missed",
  "slot-open": "its slot is open",
  promise: "then more would be lost than is promised",
};

/** How long until it is to be there, or for how long it has been overdue. */
export function until(by: string, asOf: string): string {
  const seconds = (Date.parse(by) - Date.parse(asOf)) / 1000;
  if (seconds > 0) return `in ${duration(seconds)}`;
  return seconds > -60 ? "now" : `overdue for ${duration(-seconds)}`;
}

/** What would have to be applied: "full, 3 incrementals, 41 logs". */
export function takes(r: Needed): string {
  if (!r.restore) return "nothing is there";
  const { increments, logs } = r.restore;
  const some = (n: number, one: string) => (n === 0 ? [] : [`${n} ${one}${n === 1 ? "" : "s"}`]);
  return ["full", ...some(increments, "increment"), ...some(logs, "log")].join(", ");
}
