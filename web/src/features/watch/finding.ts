import type { Finding } from "../../api/types";

const NAMED = 3;

/** Who it befalls, in front of what it is: a policy by its own words, one database by name, many by count. */
export function headline(f: Finding): string {
  if (f.policy && f.severity === "contradiction") return capital(f.title);
  if (f.code === "facts-stale" || f.code.startsWith("store-")) return capital(f.title);
  const names = f.databases.map((d) => d.name);
  if (names.length === 0) return capital(f.title);
  if (names.length === 1) return `${names[0]}: ${f.title}`;
  const shown = names.slice(0, NAMED).join(", ");
  const more = names.length - NAMED;
  return `${shown}${more > 0 ? ` and ${more} more` : ""}: ${f.title}`;
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** Where a finding leads: to the policy that contradicts itself, to the database, or to the fleet. */
export function pathOf(f: Finding): string {
  if (f.policy && f.severity === "contradiction") return `/policies/${encodeURIComponent(f.policy)}`;
  if (f.code === "no-policy") return "/fleet";
  if (f.code === "never-backed-up" && f.databases.length > 1) return "/cover?grade=stranded";
  if (f.code === "own-copy") return "/record";
  if (f.code.startsWith("sending-")) return "/sending";
  if (f.code.startsWith("sheets-")) return "/restore";
  if (f.code.startsWith("drill-")) return "/drills";
  const only = f.databases[0];
  if (!only) return "/cover";
  if (f.code.startsWith("not-ready")) return `/fleet/${encodeURIComponent(only.id)}/readiness`;
  if (f.code === "spill") return "/week";
  if (f.code.startsWith("store-") || f.code === "deleted-unasked" || f.code.startsWith("stock-"))
    return "/stores";
  return `/databases/${encodeURIComponent(only.id)}`;
}

/** The words on the button that leads there. */
export function leadsTo(f: Finding): string {
  const path = pathOf(f);
  if (path.startsWith("/policies")) return "Open policy";
  if (path.endsWith("/readiness")) return "Open readiness";
  if (path === "/fleet") return "Open Fleet";
  if (path.startsWith("/cover?")) return "Open Cover";
  if (path === "/week") return "Open Week";
  if (path === "/stores") return "Open Stores";
  if (path === "/drills") return "Open Drills";
  if (path === "/restore") return "Open Restore";
  if (path === "/record") return "Open Record";
  if (path === "/sending") return "Open Sending";
  return f.databases.length > 1 ? "Open the first" : "Open database";
}

/** Whether a promise is broken now. */
export function isNow(f: Finding): boolean {
  return f.urgency === "broken";
}

const GRADES: Record<string, string> = {
  stranded: "stranded",
  behind: "behind",
  "unbridged-gap": "behind",
  "hazard-missed": "behind",
  "bridged-gap": "short",
  contradiction: "short",
};

/** The gauge that stands before it. */
export function gradeOf(f: Finding): string {
  return GRADES[f.severity] ?? "covered";
}

/** The words on the button that starts the backup which ends it, where one does and one database is concerned. */
export function startable(f: Finding): string | null {
  const way = f.waysOut.find((w) => w.ends);
  if (!way || way.action !== "take" || !way.kind || f.databases.length > 1) return null;
  return "Start now";
}
