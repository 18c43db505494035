import { useQuery } from "@tanstack/react-query";
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
