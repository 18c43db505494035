import { useQuery } from "@tanstack/react-query";
import { answer, client, done } from "../../api/client";
import { BLOCK } from "../../api/stretch";
import type { Schemas } from "../../api/types";

export type DrillsView = Schemas["DrillsView"];
export type DrillRow = Schemas["DrillRow"];
export type DrillDone = Schemas["DrillDone"];
export type Proposal = Schemas["Proposal"];

/** How the fleet stands with drills, the databases as a long list. */
export const drillsOf = (asOf: string | null) => ({
  key: ["drills", asOf],
  ask: (from: number) =>
    answer(
      client.GET("/api/drills", { params: { query: { ...(asOf ? { asOf } : {}), from, most: BLOCK } } }),
    ),
});

export const proposeDrill = (database: string | null) =>
  answer(client.POST("/api/drills", { body: { database } }));

export const tellDrill = (id: string, result: Schemas["DrillResult"]) =>
  done(client.POST("/api/drills/{id}/result", { params: { path: { id } }, body: result }));

export const suspectDrill = (id: string) =>
  answer(client.POST("/api/drills/{id}/suspect", { params: { path: { id } } }));

/** How safe Firth's own facts are. */
export function useOwn() {
  return useQuery({
    queryKey: ["own"],
    queryFn: () => answer(client.GET("/api/own")),
    refetchInterval: 60_000,
  });
}
