import { useQuery } from "@tanstack/react-query";
import { answer, client, done, sendFile } from "../../api/client";
import { BLOCK } from "../../api/stretch";
import type { Schemas } from "../../api/types";

export type StoresView = Schemas["StoresView"];
export type StoreDetail = Schemas["StoreDetail"];
export type StoreRow = Schemas["StoreRow"];
export type StockView = Schemas["StockView"];
export type Take = Schemas["TakeView"];
export type StockFind = Schemas["FindView"];

export function useStores() {
  return useQuery({
    queryKey: ["stores"],
    queryFn: () => answer(client.GET("/api/stores")),
    placeholderData: (before) => before,
  });
}

/** What lies in a store, its databases as a long list. */
export const storeOf = (id: string) => ({
  key: ["stores", id],
  ask: (from: number) =>
    answer(
      client.GET("/api/stores/{store}", { params: { path: { store: id }, query: { from, most: BLOCK } } }),
    ),
});

/** What a forecast of a month ago would have said, and what came. */
export function useBackTest(when: boolean) {
  return useQuery({
    queryKey: ["stores", "back-test"],
    queryFn: () => answer(client.GET("/api/stores/back-test")),
    staleTime: 3_600_000,
    enabled: when,
  });
}

export function useStocktakes(store: string | undefined) {
  return useQuery({
    queryKey: ["stock", store],
    queryFn: () =>
      answer(client.GET("/api/stocktakes/of/{store}", { params: { path: { store: store ?? "" } } })),
    enabled: store !== undefined,
    refetchInterval: (query) => (query.state.data?.[0]?.state === "asked" ? 1_500 : 30_000),
  });
}

export function useStocktake(id: string) {
  return useQuery({
    queryKey: ["stock", "one", id],
    queryFn: () => answer(client.GET("/api/stocktakes/{id}", { params: { path: { id } } })),
  });
}

/** The finds of one sort, as a long list. */
export const findsOf = (id: string, what: string) => ({
  key: ["stock", "finds", id, what],
  ask: async (from: number) => ({
    rows: await answer(
      client.GET("/api/stocktakes/{id}/finds", {
        params: { path: { id }, query: { what, from, most: BLOCK } },
      }),
    ),
  }),
});

/** @param sums whether every file is to be read through, and not its size alone looked at */
export const takeStock = (store: string, sums: boolean) =>
  answer(client.POST("/api/stocktakes/of/{store}", { params: { path: { store }, query: { sums } } }));

export const decideFind = (id: string, num: number, what: Schemas["Decided"]["what"]) =>
  done(client.POST("/api/stocktakes/{id}/finds/{num}", { params: { path: { id, num } }, body: { what } }));

/** Hands in a listing somebody made by hand. */
export const handIn = (store: string, file: File, whole: boolean) =>
  sendFile<Schemas["ListingTaken"]>(
    `/api/stocktakes/of/${encodeURIComponent(store)}/listing?whole=${whole}`,
    file,
  );
