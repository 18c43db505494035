import { useQuery } from "@tanstack/react-query";
import { answer, client } from "./client";

/** Where facts come from, and how new they are. */
export function useSources() {
  return useQuery({
    queryKey: ["sources"],
    queryFn: () => answer(client.GET("/api/sources")),
    refetchInterval: 30_000,
  });
}
