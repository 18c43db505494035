import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { answer, client, done, showPage } from "./client";
import type { Schemas } from "./types";

export type Session = Schemas["SessionView"];
export type Someone = Schemas["Someone"];

/** Who is signed in at this browser. */
export function useSession() {
  return useQuery({
    queryKey: ["session"],
    queryFn: () =>
      answer(client.GET("/api/session")).then((session) => {
        showPage(session.page);
        return session;
      }),
    staleTime: 60_000,
  });
}

/** Whoever is signed in, once that is known. */
export function useMe(): Someone {
  return useSession().data?.person ?? { id: "", name: "", can: [] };
}

/** Whether the one signed in has a role. */
export function useMay(role: string): boolean {
  return useMe().can.includes(role);
}

/** Comes or goes, then asks everything anew: another person may see and do other things, and shows another page's word. */
export function useComing() {
  const queries = useQueryClient();
  return useCallback(
    async (coming: Promise<void>) => {
      await coming;
      queries.removeQueries({ queryKey: ["people"] });
      await queries.refetchQueries({ queryKey: ["session"] });
      await queries.invalidateQueries({
        predicate: (q) => !["session", "people"].includes(String(q.queryKey[0])),
      });
    },
    [queries],
  );
}

export const enter = (with_: Schemas["Entering"]) => done(client.POST("/api/session", { body: with_ }));
export const enterFirst = (with_: Schemas["FirstEntering"]) =>
  done(client.POST("/api/session/first", { body: with_ }));
export const be = (person: string) => done(client.POST("/api/session/as", { body: { person } }));
export const leave = () => done(client.DELETE("/api/session"));
export const changePassword = (words: Schemas["NewPassword"]) =>
  done(client.POST("/api/session/password", { body: words }));

/** Who may do what. */
export function usePeople(when: boolean) {
  return useQuery({
    queryKey: ["people"],
    queryFn: () => answer(client.GET("/api/people")),
    enabled: when,
  });
}

export const statePerson = (id: string, said: Schemas["PersonWritten"]) =>
  done(client.PUT("/api/people/{id}", { params: { path: { id } }, body: said }));
export const makeToken = (said: Schemas["TokenWritten"]) =>
  answer(client.POST("/api/people/tokens", { body: said }));
export const revokeToken = (token: string) =>
  done(client.DELETE("/api/people/tokens/{token}", { params: { path: { token } } }));

/** The record, the newest entries first. */
export function useRecord(before: number | null, words: string) {
  return useQuery({
    queryKey: ["record", before, words],
    queryFn: () =>
      answer(client.GET("/api/record", { params: { query: { words, ...(before ? { before } : {}) } } })),
    placeholderData: (was) => was,
  });
}

/** Whether the record is whole: asked for, since all of it is walked. */
export const walkRecord = () => answer(client.GET("/api/record/whole"));
