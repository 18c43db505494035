import { useQuery } from "@tanstack/react-query";
import { answer, client, done } from "../../api/client";
import { coverRows } from "../../api/cover";
import type { Schemas } from "../../api/types";

export type Fault = Schemas["LiveFault"];
export type Truth = Schemas["LiveTruth"];

/** How the live fleet stands. */
export function useLive() {
  return useQuery({
    queryKey: ["live"],
    queryFn: () => answer(client.GET("/api/live")),
    refetchInterval: 1_000,
  });
}

/** Up to when Firth can restore each of these after a mishap. */
export function usePromised(databases: string[]) {
  return useQuery({
    queryKey: ["live", "promised", databases],
    queryFn: () => coverRows(databases, {}),
    enabled: databases.length > 0,
    refetchInterval: 3_000,
  });
}

export const askFault = (fault: string, broken: boolean) =>
  done(client.POST("/api/live/{fault}", { params: { path: { fault } }, body: { broken } }));
