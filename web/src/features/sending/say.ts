import type { SendList } from "./api";

/** What a list is told, in a sentence. */
export function told(l: SendList): string {
  const parts: string[] = [];
  if (l.rank)
    parts.push(
      `findings ranked ${l.rank.replaceAll("-", " ")} or worse${l.ends ? ", and when they end" : ""}`,
    );
  if (l.runsFailed) parts.push("runs that fail");
  if (l.runsOk) parts.push("runs that go well");
  if (l.watchAt) parts.push(`the morning watch at ${l.watchAt}`);
  if (l.report) parts.push(l.report === "weekly" ? "a report each week" : "a report each quarter");
  return parts.length === 0 ? "nothing" : parts.join("; ");
}

/** Which databases it is about; policies are called by their names where these are known. */
export function about(l: SendList, policies: { id: string; name: string }[] = []): string {
  if (l.by === "fleet") return "the whole fleet";
  if (l.by === "label") return l.of.replace("=", ": ");
  return `${l.by} ${l.by === "policy" ? (policies.find((p) => p.id === l.of)?.name ?? l.of) : l.of}`;
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
