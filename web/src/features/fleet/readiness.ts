import type { FleetRow, Schemas } from "../../api/types";

/** How a database's readiness stands, in a word or two. */
export function readyWords(ready: FleetRow["readiness"]): string {
  if (ready.state === "not-ready")
    return ready.lacking === 1 ? "1 thing lacking" : `${ready.lacking} things lacking`;
  if (ready.state === "unknown") return `${ready.unknown} unknown`;
  return ready.state === "waiting" ? "awaits a restart" : "ready";
}

/** What each line of the list is about. */
export const ITEMS: Record<Schemas["CheckView"]["item"], string> = {
  logs: "Logs on",
  rights: "Rights",
  processes: "Processes up",
  scheduler: "Scheduler on",
  versions: "Versions fit",
  destination: "Destination",
  apart: "Apart from it",
  "log-disk": "Log disk",
  components: "Components",
  backup: "One backup",
  names: "Names match",
};

export const STATES: Record<Schemas["CheckView"]["state"], string> = {
  ready: "ready",
  waiting: "awaits a restart",
  unknown: "unknown",
  "not-ready": "not ready",
};
