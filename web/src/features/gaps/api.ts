import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { MOVES_MS, type ViewParams, answer, client, isChosen } from "../../api/client";
import { BLOCK } from "../../api/stretch";

/** Which gaps are asked for; what is empty asks for all. */
export type GapsAsked = { words: string; state: string; reach: string };

/** The gaps of the fleet that are asked for, as a long list. */
export const gapsOf = (view: ViewParams, asked: GapsAsked) => ({
  key: ["gaps", view, asked],
  ask: (from: number) =>
    answer(client.GET("/api/gaps", { params: { query: { ...view, ...asked, from, most: BLOCK } } })),
  ...(isChosen(view.asOf) ? {} : { again: MOVES_MS }),
});

/** Where outages line up, by store. */
export function useOutages(view: ViewParams) {
  return useQuery({
    queryKey: ["gaps", "outages", view],
    queryFn: () => answer(client.GET("/api/gaps/outages", { params: { query: view } })),
    placeholderData: keepPreviousData,
    ...(isChosen(view.asOf) ? {} : { refetchInterval: MOVES_MS }),
  });
}
