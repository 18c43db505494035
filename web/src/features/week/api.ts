import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";
import { BLOCK } from "../../api/stretch";

/** A week of nights to come; of what, and from which date on. */
export function useWeek(from: string, by: string) {
  return useQuery({
    queryKey: ["week", from, by],
    queryFn: () => answer(client.GET("/api/week", { params: { query: { from, by } } })),
    placeholderData: (before) => before,
  });
}

/** The slots that run in a stretch of time, as a long list. */
export const slotsOf = (by: string, from: string, to: string) => ({
  key: ["week", "slots", by, from, to],
  ask: (first: number) =>
    answer(
      client.GET("/api/week/slots", {
        params: { query: { by, start: from, end: to, from: first, most: BLOCK } },
      }),
    ),
});

/** What will miss its window before long. */
export function useSoon() {
  return useQuery({ queryKey: ["soon"], queryFn: () => answer(client.GET("/api/week/soon")) });
}
