import type { Schemas, WrittenDocument } from "../../api/types";
import { idOf } from "../policies/document";
import { readDuration, readTime } from "../policies/values";
import type { PlacesView } from "../places/api";

export type StepName = "site" | "store" | "route" | "policy" | "database" | "backups" | "cover";

export const STEPS: readonly StepName[] = [
  "site",
  "store",
  "route",
  "policy",
  "database",
  "backups",
  "cover",
];

type Known = {
  places: PlacesView;
  policies: Schemas["PolicyRow"][];
  databases: { name: string }[];
  backed: boolean;
};

const names = (all: { name: string; retired?: string | null }[]) =>
  all.filter((p) => !p.retired).map((p) => p.name);

/** What each step has come to: names of what is there; none where it is still to be taken. */
export function taken({ places, policies, databases, backed }: Known): Record<StepName, string[]> {
  return {
    site: names(places.sites),
    store: names(places.stores),
    route: names(places.routes),
    policy: policies.filter((p) => p.version !== null).map((p) => p.name),
    database: databases.map((d) => d.name),
    backups: backed ? ["known"] : [],
    cover: [],
  };
}

/** The first step that is still to be taken; the last one is always open. */
export const nextStep = (done: Record<StepName, string[]>): StepName =>
  STEPS.find((s) => done[s].length === 0) ?? "cover";

export type FirstPolicy = { name: string; loss: string; at: string; every: string; reach: string };

/** What of a first policy is still to be said, or is not what it should be; empty where it can be written. */
export function policyFlaw(v: FirstPolicy): string {
  if (!idOf(v.name)) return "what it is called";
  if (!readDuration(v.loss)) return "how much may be lost, such as 15 min";
  if (!readTime(v.at)) return "when fulls begin, such as 22:00";
  if (!readDuration(v.every)) return "how often logs come, such as 10 min";
  if (!readDuration(v.reach)) return "how far back one may go, such as 14 days";
  return "";
}

/** A policy of a full every night and logs between, kept for as long as one may want to go back. */
export function firstPolicy(v: FirstPolicy): WrittenDocument {
  const [hour, minute] = (readTime(v.at) ?? "22:00").split(":").map(Number) as [number, number];
  const reach = readDuration(v.reach) ?? "";
  return {
    type: "policy",
    id: idOf(v.name),
    name: v.name.trim(),
    enabled: true,
    objective: { mishap: readDuration(v.loss) ?? "", reach },
    schedules: [
      {
        id: "nightly",
        kind: "full",
        rrule: `FREQ=DAILY;BYHOUR=${hour};BYMINUTE=${minute}`,
        within: "PT4H",
        enabled: true,
      },
      { id: "logs", kind: "log", every: readDuration(v.every) ?? "", enabled: true },
    ],
    retain: [{ role: "near", reach }],
  };
}
