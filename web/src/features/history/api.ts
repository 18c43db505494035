import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { type ViewParams, answer, client } from "../../api/client";
import type { Line } from "../../api/types";

/** What of history is asked for; lists are separated by commas. */
export type HistoryFilter = {
  kind?: string;
  outcome?: string;
  policy?: string;
  site?: string;
  engine?: string;
  database?: string;
  store?: string;
  words?: string;
  logs?: boolean;
};

/** History page by page, as far as one has come. */
export function useHistory(view: ViewParams, filter: HistoryFilter) {
  return useInfiniteQuery({
    queryKey: ["history", view, filter],
    queryFn: ({ pageParam, signal }) =>
      answer(
        client.GET("/api/history", {
          params: { query: { ...view, ...filter, limit: 100, ...(pageParam ? { after: pageParam } : {}) } },
          signal,
        }),
      ),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    placeholderData: (before) => before,
  });
}

/** The runs a line of history stands for, itself left out. */
export async function under(view: ViewParams, filter: HistoryFilter, run: string): Promise<Line[]> {
  const page = await answer(
    client.GET("/api/history", { params: { query: { ...view, ...filter, under: run } } }),
  );
  return page.lines;
}

/** What one may choose history by, and how many lines that leaves. */
export function useFacets(view: ViewParams, filter: HistoryFilter) {
  return useQuery({
    queryKey: ["facets", view, filter],
    queryFn: ({ signal }) =>
      answer(client.GET("/api/history/facets", { params: { query: { ...view, ...filter } }, signal })),
    placeholderData: (before) => before,
  });
}

/** Runs and backups whose ids begin so, a few. */
export function useIds(beginning: string, when: boolean) {
  return useQuery({
    queryKey: ["ids", beginning],
    queryFn: ({ signal }) =>
      answer(client.GET("/api/history/ids", { params: { query: { beginning } }, signal })),
    placeholderData: (before) => before,
    enabled: when,
  });
}

/** One run or backup in detail. */
export function useLine(id: string, view: ViewParams) {
  return useQuery({
    queryKey: ["line", id, view],
    queryFn: () => answer(client.GET("/api/history/lines/{id}", { params: { path: { id }, query: view } })),
  });
}
