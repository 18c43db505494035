import { useQuery } from "@tanstack/react-query";
import { answer, client } from "./client";

const CATCHING_UP_MS = 2_000;

/** Where facts come from, and how new they are. */
export function useSources() {
  return useQuery({
    queryKey: ["sources"],
    queryFn: () => answer(client.GET("/api/sources")),
    refetchInterval: ({ state }) => (state.data?.behind ? CATCHING_UP_MS : 30_000),
  });
}
