import type { Schemas } from "../../api/types";

type Deed = Schemas["DeedView"];
type Detail = Record<string, unknown>;

const text = (value: unknown): string =>
  typeof value === "string" || typeof value === "number"
    ? String(value)
    : Array.isArray(value)
      ? value.map(text).join(", ")
      : "";

const some = (n: unknown, one: string) => `${text(n)} ${one}${n === 1 ? "" : "s"}`;
const because = (r: Detail) => (text(r.reason ?? r.why) ? `: ${text(r.reason ?? r.why)}` : "");
const until = (at: unknown) => (text(at) ? ` until ${text(at).slice(0, 16).replace("T", " ")} UTC` : "");

const hours = (at: unknown) => text(at).slice(11, 16);

/** What records that were stated by hand say, by their type. */
const STATED: Record<string, (r: Detail) => string> = {
  policy: (r) => `policy ${text(r.name) || text(r.id)}, version ${text(r.version) || "1"}`,
  hold: (r) =>
    `a hold on ${text(r.backup) || `${text(r.database)} at ${text(r.moment)}`}${until(r.until)}${because(r)}`,
  accept: (r) =>
    r.withdrawn
      ? `that ${finding(r)} is no longer accepted`
      : `that ${finding(r)} is borne${until(r.until)}${because(r)}`,
  order: (r) => `that a ${text(r.kind)} of ${text(r.database)} is wanted now${because(r)}`,
  database: (r) => `database ${text(r.name) || text(r.id)}`,
  closure: (r) => `that nothing runs for ${text(r.policy) || text(r.database)}${because(r)}`,
  note: (r) => `a note about ${text(r.database) || text(r.about)}: ${text(r.text)}`,
  mapping: (r) => `how tables like ${text(r.name) || text(r.id)} are read`,
  restore: (r) => `how a restore of ${text(r.database)} ended`,
  drill: (r) => `a drill of ${text(r.database)}: ${text(r.outcome)}`,
  store: (r) => `store ${text(r.name) || text(r.id)}`,
  route: (r) => `route ${text(r.name) || text(r.id)}`,
  site: (r) => `site ${text(r.name) || text(r.id)}`,
  standing: (r) => `standing rule ${text(r.name) || text(r.id)}`,
  assignment: (r) =>
    r.policy === null || r.policy === undefined
      ? `that ${text(r.database)} follows no policy`
      : `that ${text(r.database)} follows policy ${text(r.policy)}`,
};

const finding = (r: Detail) => `“${text(r.finding).replace(/\|/g, " of ")}”`;

const DONE: Record<string, (d: Deed) => string> = {
  import: (d) =>
    `took in ${d.about}: ${some(d.detail.added, "fact")} added, ${text(d.detail.updated)} changed, ${text(d.detail.rejected)} refused`,
  delivered: (d) =>
    `delivered ${some(d.detail.deliveries, "time")} as ${d.about}, ${hours(d.detail.first)} to ${hours(d.detail.last)} UTC: ` +
    `${some(d.detail.added, "fact")} added, ${text(d.detail.updated)} changed, ${text(d.detail.rejected)} refused`,
  person: (d) =>
    text(d.detail.roles)
      ? `let ${text(d.detail.name) || d.about} be ${text(d.detail.roles)}`
      : `made ${d.about} known`,
  password: (d) => `gave ${d.about} a password`,
  token: (d) => `made the token ${text(d.detail.name)} (${text(d.detail.roles)})${place(d)}`,
  "token-revoked": (d) => `revoked the token ${text(d.detail.name)}`,
  "sign-in": () => "signed in",
  "sign-out": () => "signed out",
  "first-administrator": (d) => `made ${text(d.detail.name)} the first administrator`,
  "purge-asked": (d) => `asked to delete what list ${d.about} names`,
  "purge-approved": (d) => `approved list ${d.about}${dropped(d)}`,
  "purge-begun": (d) => `began deleting by list ${d.about}`,
  "purge-paused": (d) => `paused list ${d.about}${because(d.detail)}`,
  "purge-cancelled": (d) => `cancelled list ${d.about}${because(d.detail)}`,
  "purge-stopped": (d) => `stopped list ${d.about}${because(d.detail)}`,
  "purge-items-dropped": (d) => `dropped copies from list ${d.about} that must not go`,
  "purge-told": (d) => `told what became of copies of list ${d.about}: ${tally(d.detail.outcomes)}`,
  "purge-done": (d) =>
    `list ${d.about} is done: ${tally(d.detail.outcomes)}; cover is ${d.detail.coverEqual === true ? "as it was" : "not as it was"}`,
  "standing-purge-proposed": (d) =>
    `proposed that what is obsolete of ${text(d.detail.policy)} goes by itself${because(d.detail)}`,
  "standing-purge-agreed": (d) =>
    `put in force that what is obsolete of ${text(d.detail.policy)} goes by itself`,
  "standing-purge-withdrawn": (d) => `withdrew what was to go by itself of ${text(d.detail.policy)}`,
  "report-kept": (d) =>
    `kept the report of ${text(d.detail.of)}, ${text(d.detail.from).slice(0, 10)} to ${text(d.detail.to).slice(0, 10)}`,
  "loss-rehearsed": (d) => `rehearsed the loss of ${text(d.detail.lost)}`,
  "restore-begun": (d) => `began a restore of ${text(d.detail.database)}`,
  "restore-carried-out": (d) =>
    d.detail.outcome === "begun"
      ? `carries out a restore of ${text(d.detail.database)} on ${text(d.detail.host)}`
      : `carried out a restore of ${text(d.detail.database)} on ${text(d.detail.host)}: ${text(d.detail.outcome)}`,
  "restore-ended": (d) => `ended a restore of ${text(d.detail.database)}: ${text(d.detail.outcome)}`,
  "drill-proposed": (d) => `proposed a drill of ${text(d.detail.database) || d.about}`,
  "drill-suspects": (d) => `marked as spoiled the copies that drill ${d.about} read`,
  "stocktake-asked": (d) => `asked for a stocktake of ${text(d.detail.store)}`,
  "stocktake-refused": (d) => `refused the listing of ${text(d.detail.store)}: ${text(d.detail.why)}`,
  stocktake: (d) =>
    `took stock of ${text(d.detail.store)}: ${text(d.detail.agreed)} agree, ${tally(d.detail.found) || "nothing else"}`,
  "sending-list": (d) => `wrote the sending list ${text(d.detail.name) || d.about}`,
  "sending-list-removed": (d) => `removed the sending list ${d.about}`,
};

const place = (d: Deed) => (text(d.detail.place) ? ` for ${text(d.detail.place)}` : "");
const dropped = (d: Deed) =>
  d.detail.dropped ? `, ${some(d.detail.dropped, "copy").replace("copys", "copies")} left out` : "";

/** "3 deleted, 1 missing" */
function tally(found: unknown): string {
  return typeof found === "object" && found !== null && !Array.isArray(found)
    ? Object.entries(found)
        .map(([what, n]) => `${text(n)} ${what.replace(/-/g, " ")}`)
        .join(", ")
    : "";
}

/** What was done to what, in words. */
export function deedText(d: Deed): string {
  const records = Array.isArray(d.detail.records) ? (d.detail.records as Detail[]) : [];
  const said = records.map((r) => (STATED[text(r.type)] ?? ((x) => `${text(x.type)} ${text(x.id)}`))(r));
  if (said.length > 0) {
    const more = said.length - 3;
    return `stated ${said.slice(0, 3).join("; ")}${more > 0 ? ` and ${more} more` : ""}`;
  }
  const stock = d.act.startsWith("stocktake-") && text(d.detail.path);
  if (stock) return `${d.act.slice("stocktake-".length)} ${text(d.detail.path)} after a stocktake`;
  return DONE[d.act]?.(d) ?? `${d.act.replace(/-/g, " ")} ${d.about}`;
}
