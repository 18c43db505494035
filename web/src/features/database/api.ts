import { useQuery } from "@tanstack/react-query";
import { MOVES_MS, type ViewParams, answer, client, done, isChosen } from "../../api/client";
import type { Schemas } from "../../api/types";

export function useDatabase(id: string, view: ViewParams) {
  return useQuery({
    queryKey: ["database", id, view],
    queryFn: () => answer(client.GET("/api/databases/{id}", { params: { path: { id }, query: view } })),
    placeholderData: (before, query) => (query?.queryKey[1] === id ? before : undefined),
    ...(isChosen(view.asOf) ? {} : { refetchInterval: MOVES_MS }),
  });
}

export type BackupFilter = { kinds: string; verdict: string; offset: number; limit: number };

export function useBackups(id: string, view: ViewParams, filter: BackupFilter, enabled: boolean) {
  return useQuery({
    queryKey: ["backups", id, view, filter],
    queryFn: () =>
      answer(
        client.GET("/api/databases/{id}/backups", {
          params: { path: { id }, query: { ...view, ...filter } },
        }),
      ),
    placeholderData: (before) => before,
    enabled,
  });
}

/** Keeps a note about a database. */
export const writeNote = (id: string, note: Schemas["NoteWritten"]) =>
  done(client.POST("/api/databases/{id}/notes", { params: { path: { id } }, body: note }));

/** Takes a note back; it stays on record. */
export const withdrawNote = (id: string, note: string) =>
  done(client.DELETE("/api/databases/{id}/notes/{note}", { params: { path: { id, note } } }));

/** Keeps a backup, or what restores a moment, whatever the policy says. */
export const placeHold = (id: string, hold: Schemas["HoldWritten"]) =>
  done(client.POST("/api/databases/{id}/holds", { params: { path: { id } }, body: hold }));

/** Lets rules alone decide again. */
export const liftHold = (id: string, hold: string) =>
  done(client.DELETE("/api/databases/{id}/holds/{hold}", { params: { path: { id, hold } } }));
