import { useQuery } from "@tanstack/react-query";
import { MOVES_MS, type ViewParams, answer, client, isChosen } from "../../api/client";

export function useGaps(view: ViewParams) {
  return useQuery({
    queryKey: ["gaps", view],
    queryFn: () => answer(client.GET("/api/gaps", { params: { query: view } })),
    placeholderData: (before) => before,
    ...(isChosen(view.asOf) ? {} : { refetchInterval: MOVES_MS }),
  });
}
