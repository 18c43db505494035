import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";

/** What a report is asked for with. */
export type Asked = { by: string; of: string; from: string; to: string; asOf?: string };

export const reportPath = (asked: Asked, form: string) =>
  `/api/reports/made/report.${form}?${new URLSearchParams(asked).toString()}`;

export const keptPath = (id: string, form: string) => `/api/reports/kept/${encodeURIComponent(id)}.${form}`;

export function useReports() {
  return useQuery({ queryKey: ["reports"], queryFn: () => answer(client.GET("/api/reports")) });
}

export const keepReport = (asked: Asked) => answer(client.POST("/api/reports", { params: { query: asked } }));

export const makeAgain = (id: string) =>
  answer(client.POST("/api/reports/kept/{id}/again", { params: { path: { id } } }));
