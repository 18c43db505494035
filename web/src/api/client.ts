import { useQuery } from "@tanstack/react-query";
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Cover = Schemas["Cover"];
export type Row = Schemas["Row"];
export type Water = Schemas["Water"];
export type Sand = Schemas["Sand"];
export type Mark = Schemas["Mark"];
export type HazardNow = Schemas["HazardNow"];
export type Outside = Schemas["Outside"];
export type GapInfo = Schemas["GapInfo"];
export type DatabaseView = Schemas["DatabaseView"];
export type DataBackup = Schemas["DataBackup"];
export type BackupPage = Schemas["BackupPage"];
export type Sources = Schemas["Sources"];
export type WhyView = Schemas["WhyView"];
export type ImportView = Schemas["ImportView"];

/** An error as the server words it. */
export class Problem extends Error {
  readonly unharmed: string;
  readonly remedy: string;

  constructor(what: string, unharmed: string, remedy: string) {
    super(what);
    this.unharmed = unharmed;
    this.remedy = remedy;
  }

  /** From whatever an answer held. */
  static of(body: unknown): Problem {
    const { what, unharmed, remedy } = (body ?? {}) as { what?: string; unharmed?: string; remedy?: string };
    return new Problem(
      what ?? "The server did not answer.",
      unharmed ?? "Nothing was changed.",
      remedy ?? "Is it still running? Try again in a moment.",
    );
  }
}

const client = createClient<paths>({
  baseUrl: typeof window === "undefined" ? "" : window.location.origin,
  fetch: (request) => globalThis.fetch(request),
});

async function answer<T>(call: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  const { data, error } = await call.catch(() => ({ data: undefined, error: undefined }));
  if (data === undefined) throw Problem.of(error);
  return data;
}

/** The moment and period of the address, as the server takes them. */
export type ViewParams = { asOf?: string; period?: string };

export function useCover(view: ViewParams) {
  return useQuery({
    queryKey: ["cover", view],
    queryFn: () => answer(client.GET("/api/cover", { params: { query: view } })),
    placeholderData: (before) => before,
  });
}

export function useDatabase(id: string, view: ViewParams) {
  return useQuery({
    queryKey: ["database", id, view],
    queryFn: () => answer(client.GET("/api/databases/{id}", { params: { path: { id }, query: view } })),
    placeholderData: (before, query) => (query?.queryKey[1] === id ? before : undefined),
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

/** What a question "why?" is about. */
export type Subject = {
  database: string;
  about: "age" | "grade" | "breach" | "gap" | "copy" | "slot" | "cadence";
  hazard?: string;
  position?: number;
  lineage?: string;
  stream?: string;
  schedule?: string;
  at?: string;
  backup?: string;
  store?: string;
};

export function useWhy(subject: Subject | null, view: ViewParams) {
  return useQuery({
    queryKey: ["why", subject, view],
    queryFn: () => {
      const { database, ...query } = subject as Subject;
      return answer(
        client.GET("/api/databases/{id}/why", {
          params: { path: { id: database }, query: { ...view, ...query } },
        }),
      );
    },
    enabled: subject !== null,
  });
}

export function useSources() {
  return useQuery({
    queryKey: ["sources"],
    queryFn: () => answer(client.GET("/api/sources")),
    refetchInterval: 30_000,
  });
}

/** Sends a file; says how much of it has gone, and stops when told to. */
export function importFile(
  file: File,
  progress: (share: number) => void,
  stop: AbortSignal,
): Promise<ImportView> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/import?source=${encodeURIComponent(file.name.slice(0, 120))}`);
    request.setRequestHeader("content-type", "application/x-ndjson");
    request.responseType = "json";
    request.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0);
    request.onload = () =>
      request.status === 200 ? resolve(request.response as ImportView) : reject(Problem.of(request.response));
    request.onerror = () => reject(Problem.of(undefined));
    request.onabort = () =>
      reject(
        new Problem(
          "The import was stopped.",
          "Nothing of the file was taken.",
          "Drop it again to start over.",
        ),
      );
    stop.addEventListener("abort", () => request.abort());
    request.send(file);
  });
}
