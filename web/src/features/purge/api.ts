import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { answer, client, done, sendFile } from "../../api/client";
import { BLOCK } from "../../api/stretch";
import type { Schemas } from "../../api/types";

export type PurgeView = Schemas["PurgeView"];
export type PurgeLine = Schemas["LineView"];
export type PurgeList = Schemas["PurgeList"];
export type PurgeRow = Schemas["ListRow"];
export type Proof = Schemas["ProofView"];
export type ShelfRow = Schemas["ShelfRow"];
export type PurgeGroup = Schemas["Group"];

/** Of so many databases what may go is looked at when more are asked for; a list takes no more than the last. */
export const STEPS = [40, 200];

/**
 * What may go of so many databases, those in which most is obsolete; with null of a few. Of a store, "all", or, with null, of the one
 * in which most is obsolete.
 */
export function usePurge(store: string | null, leftOut: string[], most: number | null) {
  return useQuery({
    queryKey: ["purge", store, leftOut, most],
    queryFn: () => answer(client.POST("/api/purge/choice", { body: { store, leftOut, most } })),
    placeholderData: keepPreviousData,
  });
}

export function useComingWeeks(store: string) {
  return useQuery({
    queryKey: ["purge", "coming", store],
    queryFn: () => answer(client.GET("/api/purge/coming", { params: { query: { store } } })),
    staleTime: 600_000,
  });
}

export const askPurge = (asked: Schemas["Asked"]) => answer(client.POST("/api/purge", { body: asked }));

/** A list, asked for again and again while it is carried out. */
export function usePurgeList(id: string) {
  return useQuery({
    queryKey: ["purge", "list", id],
    queryFn: () => answer(client.GET("/api/purge/{id}", { params: { path: { id } } })),
    refetchInterval: (query) => (query.state.data?.state === "running" ? 1_000 : 15_000),
  });
}

/** The lines of a list, as a long list: what is shown of their outcomes is asked for again with the list. */
export const groupsOf = (id: string) => ({
  key: ["purge", "groups", id],
  ask: async (from: number) => ({
    rows: await answer(
      client.GET("/api/purge/{id}/groups", { params: { path: { id }, query: { from, most: BLOCK } } }),
    ),
  }),
  again: 15_000,
});

/** So many items come at once. */
const PAGE = 200;

/** The items of a list in one of its groups, page by page. */
export function usePurgeItems(id: string, group: PurgeGroup) {
  const { database, store, kind } = group;
  return useInfiniteQuery({
    queryKey: ["purge", "items", id, database, store, kind],
    queryFn: ({ pageParam }) =>
      answer(
        client.GET("/api/purge/{id}/items", {
          params: { path: { id }, query: { database, store, kind, after: pageParam } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.length < PAGE ? undefined : last.at(-1)?.num),
  });
}

/** What lay in the stores when a list was asked for. */
export function usePurgeShelves(id: string, wanted: boolean) {
  return useQuery({
    queryKey: ["purge", "shelves", id],
    queryFn: () => answer(client.GET("/api/purge/{id}/shelves", { params: { path: { id } } })),
    enabled: wanted,
    staleTime: Infinity,
  });
}

export const approvePurge = (id: string, hash: string) =>
  done(client.POST("/api/purge/{id}/approve", { params: { path: { id } }, body: { hash } }));

export function turnPurge(id: string, how: "carry-out" | "pause" | "cancel") {
  const params = { params: { path: { id } } };
  if (how === "carry-out") return done(client.POST("/api/purge/{id}/carry-out", params));
  return done(
    how === "pause"
      ? client.POST("/api/purge/{id}/pause", params)
      : client.POST("/api/purge/{id}/cancel", params),
  );
}

/** Tells what became of items deleted by hand: the list's table with its outcomes. */
export const tellByHand = (id: string, hash: string, table: File) =>
  sendFile<Schemas["Taken"]>(`/api/purge/${encodeURIComponent(id)}/told?hash=${hash}`, table);
