import { useQuery } from "@tanstack/react-query";
import { answer, client, done } from "../../api/client";
import { BLOCK } from "../../api/stretch";
import type { Schemas } from "../../api/types";

export type Rehearsal = Schemas["RehearsalView"];
export type Rehearsed = Schemas["Rehearsed"];
export type RehearsedRow = Schemas["RehearsedRow"];
export type Losing = Schemas["Losing"];

export function useLosable() {
  return useQuery({
    queryKey: ["rehearsals", "losable"],
    queryFn: () => answer(client.GET("/api/rehearsals/losable")),
  });
}

export function useRehearsals() {
  return useQuery({
    queryKey: ["rehearsals", "all"],
    queryFn: () => answer(client.GET("/api/rehearsals")),
  });
}

/** One, asked for again and again while it runs. */
export function useRehearsal(id: string | null) {
  return useQuery({
    queryKey: ["rehearsals", "one", id],
    queryFn: () => answer(client.GET("/api/rehearsals/{id}", { params: { path: { id: id as string } } })),
    enabled: id !== null,
    refetchInterval: (query) =>
      query.state.data && !query.state.data.result && !query.state.data.trouble ? 300 : false,
  });
}

/** The rows of one that is done, of the databases that are restored or of the rest, as a long list. */
export const rowsOf = (id: string, restored: boolean) => ({
  key: ["rehearsals", "rows", id, restored],
  ask: async (from: number) => ({
    rows: await answer(
      client.GET("/api/rehearsals/{id}/rows", {
        params: { path: { id }, query: { restored, from, most: BLOCK } },
      }),
    ),
  }),
});

/** A loss of nothing, tried now: what is lost is said besides. So many restores run side by side where nobody says otherwise. */
export const NOTHING_LOST: Losing = {
  title: "",
  sites: [],
  stores: [],
  hosts: [],
  unlocked: false,
  moment: null,
  sideBySide: 3,
};

export const beginRehearsal = (losing: Losing) => answer(client.POST("/api/rehearsals", { body: losing }));

export const stopRehearsal = (id: string) =>
  done(client.DELETE("/api/rehearsals/{id}", { params: { path: { id } } }));
