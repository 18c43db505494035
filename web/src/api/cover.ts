import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { SLIDES_MS, type ViewParams, answer, client, isChosen } from "./client";
import type { Cover, Row } from "./types";

/** What of the fleet is asked for, in which groups and order; what is not said asks for all. */
export type CoverAsked = {
  by?: string;
  order?: string;
  hazard?: string;
  words?: string;
  grade?: string;
  policy?: string;
  site?: string;
  engine?: string;
  label?: string;
  /** How many rows come at once. */
  most?: number;
  /** The ids of how many databases come. */
  ids?: number;
};

/** The rows of a few databases alone. */
export function coverRows(databases: string[], view: ViewParams): Promise<Row[]> {
  return answer(client.GET("/api/cover/rows", { params: { query: { ...view, database: databases } } }));
}

/** The fleet in groups, with the rows of those that stand first. */
export function useCover(view: ViewParams, asked: CoverAsked = {}, when = true) {
  return useQuery({
    queryKey: ["cover", view, asked],
    queryFn: () => answer(client.GET("/api/cover", { params: { query: { ...view, ...asked } } })),
    placeholderData: keepPreviousData,
    enabled: when,
    ...(isChosen(view.asOf) ? {} : { refetchInterval: SLIDES_MS }),
  });
}

/** How much of the fleet was outside its promise in the period. */
export function useStrip(view: ViewParams) {
  return useQuery({
    queryKey: ["strip", view],
    queryFn: () => answer(client.GET("/api/cover/strip", { params: { query: view } })),
    placeholderData: keepPreviousData,
    ...(isChosen(view.asOf) ? {} : { refetchInterval: SLIDES_MS }),
  });
}

/** So many are asked for at once. */
const BLOCK = 16;

/**
 * Those rows of the fleet that are in sight, by id: the first come with it, the others are asked for in blocks of its order, so that
 * scrolling on asks for the next.
 *
 * @param all the ids of the fleet in its order
 */
export function useCoverRows(
  view: ViewParams,
  cover: Cover,
  all: string[],
  inSight: string[],
): Map<string, Row> {
  const first = new Map(cover.rows.map((r) => [r.id, r]));
  const at = new Map(all.map((id, i) => [id, Math.floor(i / BLOCK)]));
  const blocks = [...new Set(inSight.flatMap((id) => (first.has(id) ? [] : (at.get(id) ?? []))))];
  return useQueries({
    queries: blocks.map((b) => {
      const ids = all.slice(b * BLOCK, (b + 1) * BLOCK);
      return {
        queryKey: ["ribbons", view, ids],
        queryFn: () => coverRows(ids, view),
        ...(isChosen(view.asOf) ? {} : { refetchInterval: SLIDES_MS }),
      };
    }),
    combine: (found) =>
      new Map([...found.flatMap((f) => (f.data ?? []).map((r) => [r.id, r] as const)), ...first]),
  });
}
