/** What a database can be said to be, as a form or a pasted table says it. */
export const FIELDS = [
  ["name", "Name"],
  ["engine", "Engine"],
  ["site", "Site"],
  ["host", "Host"],
  ["system", "System"],
  ["zone", "Time zone"],
  ["inServiceFrom", "In service from"],
  ["owner", "Owner"],
  ["sizeBytes", "Size"],
  ["identity", "What the engine calls itself"],
  ["standbyOf", "Standby of"],
  ["streams", "Log streams"],
  ["labels", "Labels"],
  ["components", "Components"],
  ["stopped", "Stopped"],
  ["route", "Route"],
  ["policy", "Policy"],
] as const;

export type Field = (typeof FIELDS)[number][0];
export type Stated = Partial<Record<Field | "id", string>>;

export type DatabaseRecord = Record<string, unknown> & { type: "database"; id: string };
export type BadLine = { line: number; field: string; reason: string };

/** An id made of a name. */
export function idOf(name: string): string {
  return name
    .trim()
    .replace(/[^A-Za-z0-9._:/-]+/g, "-")
    .slice(0, 120);
}

const words = (text: string) =>
  text
    .split(/[,;]/)
    .map((w) => w.trim())
    .filter(Boolean);

/** "class=sailings, tier=1" as labels; text without a sign is an error. */
export function readLabels(text: string): Record<string, string> | string {
  const out: Record<string, string> = {};
  for (const part of words(text)) {
    const m = /^([^=:]+)[=:](.+)$/.exec(part);
    if (!m) return `contains "${part}", which is not written name=text`;
    out[(m[1] as string).trim()] = (m[2] as string).trim();
  }
  return out;
}

/** "2026-11-20T20:00:00Z/2026-11-22T06:00:00Z, ..." as stopped stretches; the end may be left open. */
export function readStopped(text: string): { from: string; to?: string }[] | string {
  const out: { from: string; to?: string }[] = [];
  for (const part of words(text)) {
    const [from, to] = part.split("/") as [string, string | undefined];
    const times = [from, to].filter((t): t is string => Boolean(t));
    if (times.some((t) => Number.isNaN(Date.parse(t))))
      return `contains "${part}", which is not written FROM/TO`;
    out.push(to ? { from: instant(from), to: instant(to) } : { from: instant(from) });
  }
  return out;
}

const instant = (text: string) => new Date(text).toISOString().replace(/\.\d+Z$/, "Z");

/** A record of what was said, laid over what was known before; or what is wrong with it, and where. */
export function databaseRecord(
  stated: Stated,
  before: Record<string, unknown> = {},
): DatabaseRecord | { field: string; reason: string } {
  const name = stated.name?.trim() ?? "";
  if (!name) return { field: "name", reason: "is missing" };
  const out: DatabaseRecord = {
    ...before,
    type: "database",
    id: stated.id?.trim() || (before.id as string | undefined) || idOf(name),
    name,
  };
  const since = stated.inServiceFrom?.trim();
  if (since) {
    if (Number.isNaN(Date.parse(since)))
      return { field: "inServiceFrom", reason: "is not a moment such as 2026-11-23" };
    out.inServiceFrom = instant(since);
  } else if (!out.inServiceFrom) out.inServiceFrom = instant(new Date().toISOString());
  if (stated.zone?.trim()) {
    try {
      new Intl.DateTimeFormat("en", { timeZone: stated.zone.trim() });
    } catch {
      return { field: "zone", reason: "is not a time zone such as Europe/Lisbon" };
    }
  }
  for (const field of [
    "engine",
    "site",
    "host",
    "system",
    "zone",
    "owner",
    "identity",
    "standbyOf",
    "route",
    "policy",
  ] as const) {
    const text = stated[field]?.trim();
    if (text) out[field] = text;
    else if (text === "") Reflect.deleteProperty(out, field);
  }
  if (stated.sizeBytes?.trim()) {
    const bytes = readSize(stated.sizeBytes);
    if (bytes === null) return { field: "sizeBytes", reason: "is not a size such as 500 GB or 1.2 TB" };
    out.sizeBytes = bytes;
  } else if (stated.sizeBytes === "") Reflect.deleteProperty(out, "sizeBytes");
  if (stated.streams?.trim()) out.streams = words(stated.streams);
  if (stated.components?.trim()) out.components = words(stated.components).map((c) => ({ name: c }));
  if (stated.labels !== undefined) {
    const labels = readLabels(stated.labels);
    if (typeof labels === "string") return { field: "labels", reason: labels };
    out.labels = labels;
  }
  if (stated.stopped !== undefined) {
    const stopped = readStopped(stated.stopped);
    if (typeof stopped === "string") return { field: "stopped", reason: stopped };
    out.stopped = stopped;
  }
  return out;
}

const SIZES: Record<string, number> = {
  "": 1,
  b: 1,
  kb: 1e3,
  mb: 1e6,
  gb: 1e9,
  tb: 1e12,
  pb: 1e15,
  kib: 2 ** 10,
  mib: 2 ** 20,
  gib: 2 ** 30,
  tib: 2 ** 40,
  pib: 2 ** 50,
};

/** Bytes of "500 GB", "1.2TB", "7 GiB" or "1200"; null of anything else. */
export function readSize(text: string): number | null {
  const m = /^(\d+(?:[.,]\d+)?)\s*([kmgtp]?i?b?)$/i.exec(text.trim());
  const unit = SIZES[(m?.[2] ?? "?").toLowerCase().replace(/^([kmgtp]i?)$/, "$1b")];
  if (!m || unit === undefined) return null;
  return Math.round(Number((m[1] as string).replace(",", ".")) * unit);
}

/** Bytes as they can be typed again without loss: "1.2 TB", "500 GB", "1234567". */
export function sizeText(bytes: number): string {
  for (const unit of ["tb", "gb", "mb"] as const) {
    const n = bytes / (SIZES[unit] as number);
    if (n >= 1 && Number(n.toFixed(3)) === n) return `${n} ${unit.toUpperCase()}`;
  }
  return String(bytes);
}
/** That databases follow a policy and take a route from a moment on. */
export function assigned(
  given: { database: string; policy: string | null; route: string | null }[],
  said: { from: string; by: string; why: string },
): object[] {
  const at = Date.now().toString(36);
  return given.map(({ database, policy, route }, i) => ({
    type: "assignment",
    id: `assigned:${at}:${i}`,
    database,
    ...(policy ? { policy } : {}),
    ...(route ? { route } : {}),
    ...said,
  }));
}
