import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";
import type { Schemas } from "../../api/types";

export type RestorePlan = Schemas["RestoreView"];
export type PlanWay = Schemas["PlanWay"];
export type PlanStep = Schemas["PlanStep"];
export type KeptRestore = Schemas["KeptRestore"];
export type Course = Schemas["RestoreCourse"];

/** What a plan is asked for with, as in the address. */
export type Wanted = {
  moment?: string;
  positions?: string;
  lineage?: string;
  hazard?: string;
  component?: string;
  store?: string[];
  site?: string[];
  copy?: string[];
  asOf?: string;
};

/** How to get a database back; the plan before stays until the next one is there. */
export function usePlan(database: string, wanted: Wanted) {
  return useQuery({
    queryKey: ["restore", "plan", database, wanted],
    queryFn: () =>
      answer(client.GET("/api/restore/of/{database}", { params: { path: { database }, query: wanted } })),
    placeholderData: (before, query) => (query?.queryKey[2] === database ? before : undefined),
    enabled: database !== "",
  });
}

export const beginRestore = (database: string, wanted: Wanted, begun: Schemas["RestoreBegun"]) =>
  answer(
    client.POST("/api/restore/of/{database}", { params: { path: { database }, query: wanted }, body: begun }),
  );

export function useRestores() {
  return useQuery({
    queryKey: ["restore", "begun"],
    queryFn: () => answer(client.GET("/api/restore/begun")),
    placeholderData: keepPreviousData,
  });
}

export function useRestore(id: string) {
  return useQuery({
    queryKey: ["restore", "one", id],
    queryFn: () => answer(client.GET("/api/restore/begun/{id}", { params: { path: { id } } })),
    refetchInterval: (query) => (query.state.data && isGoing(query.state.data) ? 5_000 : 15_000),
  });
}

/** Whether a program is carrying it out. */
export const isGoing = ({ course, ended }: KeptRestore) =>
  course !== null && course.reached === null && course.failed === null && ended === null;

export const tickLine = (id: string, item: string, done: boolean) =>
  answer(client.POST("/api/restore/begun/{id}/tick", { params: { path: { id } }, body: { item, done } }));

export const endRestore = (id: string, ended: Schemas["RestoreEnded"]) =>
  answer(client.POST("/api/restore/begun/{id}/end", { params: { path: { id } }, body: ended }));

/** The address of a plan's checklist, or of one that was begun. */
export function checklist(database: string, wanted: Wanted, form: string, name: string): string {
  const query = new URLSearchParams({ name });
  for (const [key, value] of Object.entries(wanted)) {
    for (const one of Array.isArray(value) ? value : [value]) query.append(key, one);
  }
  return `/api/restore/of/${encodeURIComponent(database)}/checklist.${form}?${query.toString()}`;
}
