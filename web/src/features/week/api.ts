import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";

/** A week of nights to come; of what, and from which date on. */
export function useWeek(from: string, by: string) {
  return useQuery({
    queryKey: ["week", from, by],
    queryFn: () => answer(client.GET("/api/week", { params: { query: { from, by } } })),
    placeholderData: (before) => before,
  });
}

/** What will miss its window before long. */
export function useSoon() {
  return useQuery({ queryKey: ["soon"], queryFn: () => answer(client.GET("/api/week/soon")) });
}
