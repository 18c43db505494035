import { useQuery } from "@tanstack/react-query";
import { answer, client, done } from "../../api/client";
import type { WrittenDocument } from "../../api/types";

export function usePolicies(when = true) {
  return useQuery({
    queryKey: ["policies"],
    queryFn: () => answer(client.GET("/api/policies")),
    enabled: when,
  });
}

export function usePolicy(id: string) {
  return useQuery({
    queryKey: ["policy", id],
    queryFn: () => answer(client.GET("/api/policies/{id}", { params: { path: { id } } })),
    // Drafts are kept while they are written: an editor never begins with what was read before.
    gcTime: 0,
  });
}

/**
 * What a policy as written would have done to its followers, or to those of another; the answer before stays until the new
 * one comes.
 */
export function useReplay(id: string, document: WrittenDocument, followers?: string) {
  return useQuery({
    queryKey: ["replay", id, document, followers],
    queryFn: ({ signal }) =>
      answer(
        client.POST("/api/policies/{id}/replay", {
          params: { path: { id }, query: followers ? { followers } : {} },
          body: document,
          signal,
        }),
      ),
    placeholderData: (before) => before,
  });
}

/** What a policy as written will do; asked when something else is there, so that the two do not slow each other. */
export function useAhead(id: string, document: WrittenDocument, followers?: string, when = true) {
  return useQuery({
    queryKey: ["ahead", id, document, followers],
    queryFn: ({ signal }) =>
      answer(
        client.POST("/api/policies/{id}/ahead", {
          params: { path: { id }, query: followers ? { followers } : {} },
          body: document,
          signal,
        }),
      ),
    enabled: when,
    placeholderData: (before) => before,
  });
}

/** Where a rule or cron line falls in some zones. */
export function useOccurrences(rule: string, zones: string[]) {
  return useQuery({
    queryKey: ["recurrence", rule, zones],
    queryFn: () =>
      answer(client.GET("/api/recurrence", { params: { query: { rule, zones: zones.join(",") } } })),
    placeholderData: (before) => before,
  });
}

export const keepDraft = (id: string, document: WrittenDocument) =>
  done(client.PUT("/api/policies/{id}/draft", { params: { path: { id } }, body: document }));

export const dropDraft = (id: string) =>
  done(client.DELETE("/api/policies/{id}/draft", { params: { path: { id } } }));

export type Order = { at: string; why: string; despite: string | null };

export const putInForce = (id: string, document: WrittenDocument, order: Order) =>
  answer(
    client.POST("/api/policies/{id}/versions", { params: { path: { id } }, body: { ...order, document } }),
  );
