import { useQuery } from "@tanstack/react-query";
import { SLIDES_MS, type ViewParams, answer, client, isChosen } from "../../api/client";

export function useCover(view: ViewParams) {
  return useQuery({
    queryKey: ["cover", view],
    queryFn: () => answer(client.GET("/api/cover", { params: { query: view } })),
    placeholderData: (before) => before,
    ...(isChosen(view.asOf) ? {} : { refetchInterval: SLIDES_MS }),
  });
}
