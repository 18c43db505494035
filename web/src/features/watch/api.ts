import { useQueries, useQuery } from "@tanstack/react-query";
import { MOVES_MS, type ViewParams, answer, client, done, isChosen } from "../../api/client";
import { BLOCK } from "../../api/stretch";
import type { Schemas } from "../../api/types";
import type { components } from "../../api/schema";

export type Needed = components["schemas"]["NeededBackup"];

/** What still needs a backup, as a long list. */
export const needsOf = (asOf: string | undefined, asked: { words: string; kind: string }) => ({
  key: ["needs", asOf ?? "", asked],
  ask: (from: number) =>
    answer(
      client.GET("/api/needs", {
        params: { query: { ...(asOf ? { asOf } : {}), ...asked, from, most: BLOCK } },
      }),
    ),
  ...(isChosen(asOf) ? {} : { again: MOVES_MS }),
});

/** The morning watch. */
export function useWatch(view: ViewParams, looked: string | null) {
  return useQuery({
    queryKey: ["watch", view, looked],
    queryFn: () =>
      answer(client.GET("/api/watch", { params: { query: { ...view, ...(looked ? { looked } : {}) } } })),
    placeholderData: (before) => before,
    ...(isChosen(view.asOf) ? {} : { refetchInterval: 30_000 }),
  });
}

/** Of one kind of finding, how many are shown beyond those that are shown at first. */
export type Unfolded = {
  code: string;
  severity: Schemas["FoldedFindings"]["severity"];
  from: number;
  most: number;
};

const PAGE = 50;

/** The findings of kinds that were unfolded, page by page. */
export function useUnfolded(view: ViewParams, unfolded: Unfolded[]) {
  return useQueries({
    queries: unfolded.flatMap(({ code, severity, from, most }) =>
      Array.from({ length: Math.ceil(most / PAGE) }, (_, page) => {
        const query = { ...view, code, severity, from: from + page * PAGE, most: PAGE };
        return {
          queryKey: ["watch", "findings", query],
          queryFn: () => answer(client.GET("/api/watch/findings", { params: { query } })),
        };
      }),
    ),
    combine: (pages) => pages.flatMap((p) => p.data ?? []),
  });
}

/** Notes that somebody looked at what is wrong now. */
export const haveLooked = () => done(client.POST("/api/watch/looked"));

/** Bears a finding until a moment. */
export const acceptFinding = (bear: Schemas["Bear"]) =>
  done(client.POST("/api/watch/accepts", { body: bear }));

/** Calls an accept back. */
export const callBack = (id: string) =>
  done(client.DELETE("/api/watch/accepts/{id}", { params: { path: { id } } }));
