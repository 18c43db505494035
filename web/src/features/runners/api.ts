import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";
import type { Schemas } from "../../api/types";

/** What can be started of a database now, with what it would cost and give. */
export function useOffers(id: string) {
  return useQuery({
    queryKey: ["offers", id],
    queryFn: () => answer(client.GET("/api/databases/{id}/starts", { params: { path: { id } } })),
    gcTime: 0,
  });
}

/** Orders a backup now. */
export const startBackup = (id: string, start: Schemas["Start"]) =>
  answer(client.POST("/api/databases/{id}/starts", { params: { path: { id } }, body: start }));
