import { useMutation, useQuery } from "@tanstack/react-query";
import { answer, client, done } from "../../api/client";
import type { Schemas } from "../../api/types";
import { count, size } from "../../time/words";

export type StandingRow = Schemas["StandingRow"];
export type StandingEntry = Schemas["StandingEntry"];
export type Terms = Schemas["Terms"];
export type Trial = Schemas["Trial"];

export function useStanding() {
  return useQuery({
    queryKey: ["purge", "standing"],
    queryFn: () => answer(client.GET("/api/standing-purges")),
    refetchInterval: 30_000,
  });
}

/** What terms would have done, by what is kept of the nights that were. */
export function useTrial(terms: Terms) {
  return useQuery({
    queryKey: ["standing-trial", terms],
    queryFn: () => answer(client.POST("/api/standing-purges/trial", { body: terms })),
    staleTime: 600_000,
  });
}

/** The same when it is asked for. */
export const useTry = () =>
  useMutation({
    mutationFn: (terms: Terms) => answer(client.POST("/api/standing-purges/trial", { body: terms })),
  });

export const propose = (terms: Terms, reason: string) =>
  answer(client.POST("/api/standing-purges", { body: { terms, reason } }));

export const agree = (entry: StandingEntry) =>
  done(
    client.POST("/api/standing-purges/{num}/agree", {
      params: { path: { num: entry.num } },
      body: { hash: entry.hash },
    }),
  );

export const withdraw = (entry: StandingEntry) =>
  done(client.POST("/api/standing-purges/{num}/withdraw", { params: { path: { num: entry.num } } }));

/** For how long no rule must have needed a copy. */
export const LONG: [iso: string, text: string][] = [
  ["PT0S", "as soon as it is obsolete"],
  ["P1D", "1 day"],
  ["P2D", "2 days"],
  ["P3D", "3 days"],
  ["P7D", "7 days"],
  ["P14D", "14 days"],
  ["P30D", "30 days"],
];

/** What lets nothing go, by how soon a finding needs somebody. */
export const PAUSES: [word: string, text: string][] = [
  ["broken", "while a promise is broken"],
  ["will-break", "while a promise is broken or will break"],
  ["besides", "while anything is found but housekeeping"],
  ["housekeeping", "while anything at all is found"],
];

const worded = (of: [string, string][], value: string) => of.find(([v]) => v === value)?.[1] ?? value;

/** What terms say. */
export function said(t: Terms): string {
  const long =
    t.obsoleteFor === "PT0S"
      ? "What no rule needs goes"
      : `What no rule has needed for ${worded(LONG, t.obsoleteFor)} goes`;
  return (
    `${long} by itself: at most ${count(t.copies)} ${t.copies === 1 ? "copy" : "copies"} and ${size(t.bytes)} a night, ` +
    `${t.from === t.to ? "at any hour" : `${t.from} to ${t.to}`} (${t.zone}), and nothing ${worded(PAUSES, t.pausedBy)}.`
  );
}
