import { type ViewParams, answer, client } from "./client";
import type { Row } from "./types";

/** The rows of a few databases alone. */
export function coverRows(databases: string[], view: ViewParams): Promise<Row[]> {
  return answer(client.GET("/api/cover/rows", { params: { query: { ...view, database: databases } } }));
}
