import type { SendList } from "./api";

/** What a list is told, in a sentence. */
export function told(l: SendList): string {
  const parts: string[] = [];
  if (l.rank) parts.push(`findings of rank ${l.rank} and worse${l.ends ? ", and when they end" : ""}`);
  if (l.runsFailed) parts.push("runs that fail");
  if (l.runsOk) parts.push("runs that go well");
  if (l.watchAt) parts.push(`the morning watch at ${l.watchAt}`);
  if (l.report) parts.push(l.report === "weekly" ? "a report each week" : "a report each quarter");
  return parts.length === 0 ? "nothing" : parts.join("; ");
}

/** Of which databases. */
export function about(l: SendList): string {
  if (l.by === "fleet") return "the whole fleet";
  return l.by === "label" ? l.of.replace("=", ": ") : `${l.by} ${l.of}`;
}

/** A new list of nobody, told nothing. */
export const blank = (zone: string): SendList => ({
  id: "",
  name: "",
  enabled: true,
  mails: [],
  webhook: "",
  secret: "",
  by: "fleet",
  of: "",
  rank: "behind",
  ends: true,
  runsFailed: true,
  runsOk: false,
  quietFrom: "",
  quietTo: "",
  zone,
  watchAt: "",
  report: "",
});

/** An id from a name. */
export const idOf = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60);
