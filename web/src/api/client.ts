import createClient from "openapi-fetch";
import type { paths } from "./schema";

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
    const { detail, unharmed, remedy } = (body ?? {}) as {
      detail?: string;
      unharmed?: string;
      remedy?: string;
    };
    return new Problem(
      detail ?? "The server did not answer.",
      unharmed ?? (detail === undefined ? "Whether anything was done is not known." : ""),
      remedy ?? "Is it still running? Try again in a moment.",
    );
  }
}

/** Whatever was thrown, as an error. */
export const asError = (thrown: unknown): Error =>
  thrown instanceof Error ? thrown : new Error(String(thrown));

let page = "";

/** What this page shows with every change, so that no other site's page can make one. */
export function showPage(token: string) {
  page = token;
}

export const pageHeader = (): Record<string, string> => (page ? { "X-Firth-Page": page } : {});

export const client = createClient<paths>({
  baseUrl: typeof window === "undefined" ? "" : window.location.origin,
  fetch: (request) => globalThis.fetch(request),
});

client.use({
  onRequest({ request }) {
    Object.entries(pageHeader()).forEach(([name, value]) => request.headers.set(name, value));
    return request;
  },
});

export async function answer<T>(call: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  const { data, error } = await call.catch(() => ({ data: undefined, error: undefined }));
  if (data === undefined) throw Problem.of(error);
  return data;
}

/** For what is answered with nothing. */
export async function done(call: Promise<{ error?: unknown; response?: Response }>): Promise<void> {
  const { error, response } = await call.catch(() => ({ error: undefined, response: undefined }));
  if (!response?.ok) throw Problem.of(error);
}

/** Sends a file as it is; what it is, is told by its name. */
export async function sendFile<T>(path: string, file: File): Promise<T> {
  const response = await fetch(
    new Request(new URL(path, window.location.origin), {
      method: "POST",
      headers: {
        "content-type": file.name.endsWith(".csv") ? "text/csv" : "application/x-ndjson",
        ...pageHeader(),
      },
      body: file,
    }),
  ).catch(() => undefined);
  const body: unknown = await response?.json().catch(() => undefined);
  if (!response?.ok) throw Problem.of(body);
  return body as T;
}

/** What is wrong and how old things are moves on with the clock; what was achieved over a period only slides. */
export const MOVES_MS = 60_000;

export const SLIDES_MS = 300_000;

/** The moment and period of the address, as the server takes them. */
export type ViewParams = { asOf?: string; period?: string };

/** What stands in place of a moment where the clock is meant. */
export const NOW = "now";

/** Whether a moment was chosen, so that what is shown does not move on. */
export const isChosen = (asOf: string | undefined): boolean => Boolean(asOf) && asOf !== NOW;
