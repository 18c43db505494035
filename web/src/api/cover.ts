import { useQueries, useQuery } from "@tanstack/react-query";
import { SLIDES_MS, type ViewParams, answer, client, isChosen } from "./client";
import type { Row } from "./types";

/** The rows of a few databases alone. */
export function coverRows(databases: string[], view: ViewParams): Promise<Row[]> {
  return answer(client.GET("/api/cover/rows", { params: { query: { ...view, database: databases } } }));
}

/** The whole fleet as ribbons. */
export function useCover(view: ViewParams) {
  return useQuery({
    queryKey: ["cover", view],
    queryFn: () => answer(client.GET("/api/cover", { params: { query: view } })),
    placeholderData: (before) => before,
    ...(isChosen(view.asOf) ? {} : { refetchInterval: SLIDES_MS }),
  });
}

/** So many are asked for at once. */
const BLOCK = 40;

/**
 * Those rows of a long list with their ribbons that are in sight, by id: asked for in blocks of the list, so that scrolling on asks for the
 * next.
 *
 * @param all the ids of the list in its order; none where the rows have their ribbons
 */
export function useRibbons(view: ViewParams, all: string[], inSight: string[]): Map<string, Row> {
  const at = new Map(all.map((id, i) => [id, Math.floor(i / BLOCK)]));
  const blocks = [...new Set(inSight.flatMap((id) => at.get(id) ?? []))];
  return useQueries({
    queries: blocks.map((b) => {
      const ids = all.slice(b * BLOCK, (b + 1) * BLOCK);
      return {
        queryKey: ["ribbons", view, ids],
        queryFn: () => coverRows(ids, view),
        ...(isChosen(view.asOf) ? {} : { refetchInterval: SLIDES_MS }),
      };
    }),
    combine: (found) => new Map(found.flatMap((f) => (f.data ?? []).map((r) => [r.id, r] as const))),
  });
}
