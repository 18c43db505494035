import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";
import type { ImportView, Schemas, Standing } from "../../api/types";

export function useFleet(when = true) {
  return useQuery({ queryKey: ["fleet"], queryFn: () => answer(client.GET("/api/fleet")), enabled: when });
}

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

/**
 * States databases: names of sites, routes, policies and databases become ids, or the record is refused. Said not as a whole, what a
 * record does not say stays as it was.
 */
export function stateDatabases(records: object[], whole: boolean): Promise<ImportView> {
  const params = whole ? { query: { whole: "yes" } } : {};
  return answer(client.POST("/api/fleet/databases", { params, body: records as Schemas["JsonNode"][] }));
}
