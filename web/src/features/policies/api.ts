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

/** Of more followers than this a first look is taken at so many, and its answer stands until all have been looked at. */
export const ENOUGH = 40;

/** A question about all followers of a policy; of very many a few are looked at first. The answer before stays until the new one comes. */
function useOfFollowers<T>(key: unknown[], many: number, when: boolean, ask: (more: Asking) => Promise<T>) {
  const first = useQuery({
    queryKey: [...key, "first"],
    queryFn: ({ signal }) => ask({ enough: ENOUGH, signal }),
    enabled: when && many > ENOUGH,
    placeholderData: (before) => before,
  });
  const all = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => ask({ signal }),
    enabled: when && (many <= ENOUGH || (first.isSuccess && !first.isPlaceholderData)),
    placeholderData: (before) => before,
  });
  return all.isPlaceholderData && first.isSuccess && !first.isPlaceholderData
    ? first
    : all.data
      ? all
      : first;
}

type Asking = { enough?: number; signal: AbortSignal };

/** @param followers of which policy the databases are taken; absent: of this one */
const query = (followers: string | undefined, enough: number | undefined) => ({
  ...(followers ? { followers } : {}),
  ...(enough ? { enough } : {}),
});

/**
 * How the followers of a policy, or those of another, have fared, and what the rules as written make of what there is.
 *
 * @param many how many they are
 */
export function useReplay(id: string, document: WrittenDocument, many: number, followers?: string) {
  return useOfFollowers(["replay", id, document, followers], many, true, ({ enough, signal }) =>
    answer(
      client.POST("/api/policies/{id}/replay", {
        params: { path: { id }, query: query(followers, enough) },
        body: document,
        signal,
      }),
    ),
  );
}

/** What a policy as written will do; asked when something else is there, so that the two do not slow each other. */
export function useAhead(
  id: string,
  document: WrittenDocument,
  many: number,
  followers: string | undefined,
  when: boolean,
) {
  return useOfFollowers(["ahead", id, document, followers], many, when, ({ enough, signal }) =>
    answer(
      client.POST("/api/policies/{id}/ahead", {
        params: { path: { id }, query: query(followers, enough) },
        body: document,
        signal,
      }),
    ),
  );
}

/** Where a rule or cron line falls in some zones. */
export function useOccurrences(rule: string, zones: string[], anchor: string) {
  return useQuery({
    queryKey: ["recurrence", rule, zones, anchor],
    queryFn: () =>
      answer(client.GET("/api/recurrence", { params: { query: { rule, zones: zones.join(","), anchor } } })),
    placeholderData: (before) => before,
  });
}

export const keepDraft = (id: string, document: WrittenDocument) =>
  done(client.PUT("/api/policies/{id}/draft", { params: { path: { id } }, body: document }));

/** What is being written of a policy; null where nothing is. */
export const draftOf = (id: string) =>
  answer(client.GET("/api/policies/{id}", { params: { path: { id } } })).then(
    (p) => p.draft?.document ?? null,
  );

export const dropDraft = (id: string) =>
  done(client.DELETE("/api/policies/{id}/draft", { params: { path: { id } } }));

export type Planned = "stands" | "withdrawn";

export type Order = { at: string; why: string; despite: string | null; planned: Planned | null };

export const putInForce = (id: string, document: WrittenDocument, order: Order) =>
  answer(
    client.POST("/api/policies/{id}/versions", { params: { path: { id } }, body: { ...order, document } }),
  );

/** A version that is still to come never comes into force. */
export const withdraw = (id: string, version: number, why: string) =>
  answer(
    client.POST("/api/policies/{id}/versions/{version}/withdrawn", {
      params: { path: { id, version } },
      body: { why },
    }),
  );
