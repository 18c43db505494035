import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";

/** A few of the databases, all policies, and whether any backup is known. */
export function useBegun() {
  return useQuery({
    queryKey: ["begin"],
    queryFn: async () => {
      const [fleet, policies, history] = await Promise.all([
        answer(client.GET("/api/fleet", { params: { query: { from: 0, most: 5 } } })),
        answer(client.GET("/api/policies")),
        answer(client.GET("/api/history", { params: { query: { limit: 1, logs: true } } })),
      ]);
      return { databases: fleet.rows, policies, backed: history.lines.length > 0 };
    },
    refetchInterval: 10_000,
  });
}
