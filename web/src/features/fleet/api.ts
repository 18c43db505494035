import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";
import { BLOCK } from "../../api/stretch";
import type { FleetRow, ImportView, Schemas, Standing } from "../../api/types";

/** Which databases are asked for: those with some words, retired ones too or not. */
export type FleetAsked = { words: string; retired: "" | "yes" };

/** The fleet as a long list. */
export const fleetOf = (asked: FleetAsked) => ({
  key: ["fleet", asked],
  ask: (from: number) => fleetFrom(asked, from, BLOCK),
});

const fleetFrom = (asked: FleetAsked, from: number, most: number) =>
  answer(client.GET("/api/fleet", { params: { query: { ...asked, from, most } } }));

const AT_ONCE = 500;

/** All of those asked for, however many. */
export async function everyOne(asked: FleetAsked): Promise<FleetRow[]> {
  const rows: FleetRow[] = [];
  for (;;) {
    const some = await fleetFrom(asked, rows.length, AT_ONCE);
    rows.push(...some.rows);
    if (some.rows.length < AT_ONCE) return rows;
  }
}

/** Whether there is one of this id, in service or not. */
export const isEnrolled = async (id: string) =>
  (await everyOne({ words: id, retired: "yes" })).some((r) => r.id === id);

/** What databases can be given and told apart by. */
export function useChoices(when = true) {
  return useQuery({
    queryKey: ["choices"],
    queryFn: () => answer(client.GET("/api/choices")),
    enabled: when,
  });
}

/** A few databases by words in their names or ids. */
export const namedDatabases = (words: string) =>
  answer(client.GET("/api/choices/databases", { params: { query: { words } } }));

/** Whether a database is fit for its schedules to be trusted. */
export function useReadiness(id: string) {
  return useQuery({
    queryKey: ["readiness", id],
    queryFn: () => answer(client.GET("/api/fleet/{id}/readiness", { params: { path: { id } } })),
    refetchInterval: 60_000,
  });
}

/** A database as it was last stated. */
export const statedDatabase = (id: string) =>
  answer(client.GET("/api/fleet/{id}", { params: { path: { id } } })).then((w) => w.document);

/** Who would fall under which of some standing rules. */
export function useFalls(rules: Standing[]) {
  return useQuery({
    queryKey: ["falls", rules],
    queryFn: () => answer(client.POST("/api/fleet/falls", { body: rules })),
    placeholderData: (before) => before,
  });
}

/** What would become of databases as a table says them; nothing is taken. */
export function useCompared(records: object[], when: boolean) {
  return useQuery({
    queryKey: ["compared", records],
    queryFn: () =>
      answer(client.POST("/api/fleet/databases/compared", { body: records as Schemas["JsonNode"][] })),
    placeholderData: (before) => before,
    enabled: when,
  });
}

/**
 * States databases: names of sites, routes, policies and databases become ids, or the record is refused. Said not as a whole, what a
 * record does not say stays as it was.
 */
export function stateDatabases(records: object[], whole: boolean): Promise<ImportView> {
  const params = whole ? { query: { whole: "yes" } } : {};
  return answer(client.POST("/api/fleet/databases", { params, body: records as Schemas["JsonNode"][] }));
}
