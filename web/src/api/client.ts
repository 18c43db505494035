import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
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
export type PolicyRow = Schemas["PolicyRow"];
export type PolicyView = Schemas["PolicyView"];
export type VersionView = Schemas["VersionView"];
export type WrittenDocument = Schemas["WrittenDocument"];
export type ObjectiveDocument = Schemas["ObjectiveDocument"];
export type ScheduleDocument = Schemas["ScheduleDocument"];
export type OpenHoursDocument = Schemas["OpenHoursDocument"];
export type RetainDocument = Schemas["RetainDocument"];
export type CopiesDocument = Schemas["CopiesDocument"];
export type Replay = Schemas["Replay"];
export type Column = Schemas["Column"];
export type Ahead = Schemas["Ahead"];
export type StoreAhead = Schemas["StoreAhead"];
export type Flaw = Schemas["Flaw"];
export type WayOut = Schemas["WayOut"];
export type Occurrences = Schemas["Occurrences"];
export type WeekView = Schemas["WeekView"];
export type WeekBar = Schemas["SlotBar"];
export type FleetView = Schemas["FleetView"];
export type FleetRow = Schemas["FleetRow"];
export type RouteView = Schemas["RouteView"];
export type ReadyView = Schemas["ReadyView"];
export type Follower = Schemas["Follower"];
export type Unenrolled = Schemas["Unenrolled"];
export type Standing = Schemas["Standing"];
export type Falls = Schemas["Falls"];
export type Watch = Schemas["Watch"];
export type Finding = Schemas["FindingView"];
export type Named = Schemas["GradedDatabase"];
export type Offer = Schemas["Offer"];
export type HistoryView = Schemas["HistoryView"];
export type Line = Schemas["Line"];
export type TableView = Schemas["TableView"];
export type GapsView = Schemas["GapsView"];
export type GapRow = GapsView["rows"][number];
export type Figure = Schemas["Figure"];
export type Facets = Schemas["Facets"];
export type Step = Schemas["StepView"];
export type HistoryLine = Schemas["HistoryLine"];
export type StretchView = Schemas["StretchView"];

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
      unharmed ?? (what === undefined ? "Whether anything was done is not known." : ""),
      remedy ?? "Is it still running? Try again in a moment.",
    );
  }
}

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
const MOVES_MS = 60_000;
const SLIDES_MS = 300_000;

/** The moment and period of the address, as the server takes them. */
export type ViewParams = { asOf?: string; period?: string };

/** What stands in place of a moment where the clock is meant. */
export const NOW = "now";

/** Whether a moment was chosen, so that what is shown does not move on. */
export const isChosen = (asOf: string | undefined): boolean => Boolean(asOf) && asOf !== NOW;

export function useCover(view: ViewParams) {
  return useQuery({
    queryKey: ["cover", view],
    queryFn: () => answer(client.GET("/api/cover", { params: { query: view } })),
    placeholderData: (before) => before,
    ...(isChosen(view.asOf) ? {} : { refetchInterval: SLIDES_MS }),
  });
}

/** The rows of a few databases alone. */
export function coverRows(databases: string[], view: ViewParams): Promise<Row[]> {
  return answer(client.GET("/api/cover/rows", { params: { query: { ...view, database: databases } } }));
}

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

export function useGaps(view: ViewParams) {
  return useQuery({
    queryKey: ["gaps", view],
    queryFn: () => answer(client.GET("/api/gaps", { params: { query: view } })),
    placeholderData: (before) => before,
    ...(isChosen(view.asOf) ? {} : { refetchInterval: MOVES_MS }),
  });
}

export type Needed = components["schemas"]["NeededBackup"];

export function useNeeds(asOf: string | undefined) {
  return useQuery({
    queryKey: ["needs", asOf ?? ""],
    queryFn: () => answer(client.GET("/api/needs", { params: { query: asOf ? { asOf } : {} } })),
    placeholderData: (before) => before,
    ...(isChosen(asOf) ? {} : { refetchInterval: MOVES_MS }),
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

/** Sends a file, or a table with how to read it; says how much of it has gone, and stops when told to. */
export function importFile(
  file: File,
  progress: (share: number) => void,
  stop: AbortSignal,
  mapping?: object,
  turning = false,
): Promise<ImportView> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const query = new URLSearchParams({ source: file.name.slice(0, 120) });
    if (mapping) query.set("mapping", JSON.stringify(mapping));
    if (turning) query.set("turn", "yes");
    request.open("POST", `/api/import${mapping ? "/table" : ""}?${query.toString()}`);
    request.setRequestHeader("content-type", mapping ? "text/csv" : "application/x-ndjson");
    Object.entries(pageHeader()).forEach(([name, value]) => request.setRequestHeader(name, value));
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

/** What the first rows of a table would be read as; nothing is taken. */
export function useTablePreview(name: string, text: string, mapping: object, when: boolean) {
  return useQuery({
    queryKey: ["table", name, text.length, mapping],
    queryFn: ({ signal }) =>
      answer(
        client.POST("/api/import/table/preview", {
          params: { query: { source: name.slice(0, 120), mapping: JSON.stringify(mapping) } },
          body: text as never,
          bodySerializer: (body) => body as unknown as string,
          headers: { "content-type": "text/csv" },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
    enabled: when,
  });
}

/** Mappings somebody gave a name. */
export function useMappings() {
  return useQuery({
    queryKey: ["mappings"],
    queryFn: () => answer(client.GET("/api/import/table/mappings")),
  });
}

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

export function useFleet(when = true) {
  return useQuery({ queryKey: ["fleet"], queryFn: () => answer(client.GET("/api/fleet")), enabled: when });
}

/** Whether a database is fit for its schedules to be trusted. */
export function useReadiness(id: string) {
  return useQuery({
    queryKey: ["readiness", id],
    queryFn: () => answer(client.GET("/api/fleet/{id}/readiness", { params: { path: { id } } })),
    refetchInterval: 60_000,
  });
}

/** A database as it was last stated. */
export const statedDatabase = (id: string) =>
  answer(client.GET("/api/fleet/{id}", { params: { path: { id } } })).then((w) => w.document);

/** Who would fall under which of some standing rules. */
export function useFalls(rules: Standing[]) {
  return useQuery({
    queryKey: ["falls", rules],
    queryFn: () => answer(client.POST("/api/fleet/falls", { body: rules })),
    placeholderData: (before) => before,
  });
}

/** States records by hand, one a line as in a fleet file; lines that cannot be taken leave the others unharmed. */
export function stateRecords(records: object[]): Promise<ImportView> {
  const file = new File([records.map((r) => JSON.stringify(r)).join("\n")], "by hand");
  return importFile(file, () => {}, new AbortController().signal);
}

/**
 * States databases: names of sites, routes, policies and databases become ids, or the record is refused. Said not as a whole, what a
 * record does not say stays as it was.
 */
export function stateDatabases(records: object[], whole: boolean): Promise<ImportView> {
  const params = whole ? { query: { whole: "yes" } } : {};
  return answer(client.POST("/api/fleet/databases", { params, body: records as Schemas["JsonNode"][] }));
}

/** A week of nights to come; of what, and from which date on. */
export function useWeek(from: string, by: string) {
  return useQuery({
    queryKey: ["week", from, by],
    queryFn: () => answer(client.GET("/api/week", { params: { query: { from, by } } })),
    placeholderData: (before) => before,
  });
}

/** What will miss its window before long. */
export function useSoon() {
  return useQuery({ queryKey: ["soon"], queryFn: () => answer(client.GET("/api/week/soon")) });
}

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

/** Bears a finding until a moment. */
export const acceptFinding = (bear: Schemas["Bear"]) =>
  done(client.POST("/api/watch/accepts", { body: bear }));

/** Calls an accept back. */
export const callBack = (id: string) =>
  done(client.DELETE("/api/watch/accepts/{id}", { params: { path: { id } } }));

/** What can be started of a database now, with what it would cost and give. */
export function useOffers(id: string) {
  return useQuery({
    queryKey: ["offers", id],
    queryFn: () => answer(client.GET("/api/databases/{id}/starts", { params: { path: { id } } })),
    gcTime: 0,
  });
}

/** Orders a backup now. */
export const startBackup = (id: string, start: Schemas["Start"]) =>
  answer(client.POST("/api/databases/{id}/starts", { params: { path: { id } }, body: start }));

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

/** What happened next, or last before. */
export const stepFrom = (from: { asOf: string; to: "next" | "previous"; database?: string }): Promise<Step> =>
  answer(client.GET("/api/step", { params: { query: from } }));

/** What of history is asked for; lists are parted by commas. */
export type HistoryFilter = {
  kind?: string;
  outcome?: string;
  policy?: string;
  site?: string;
  engine?: string;
  database?: string;
  store?: string;
  words?: string;
  logs?: boolean;
};

/** History page by page, as far as one has come. */
export function useHistory(view: ViewParams, filter: HistoryFilter) {
  return useInfiniteQuery({
    queryKey: ["history", view, filter],
    queryFn: ({ pageParam, signal }) =>
      answer(
        client.GET("/api/history", {
          params: { query: { ...view, ...filter, limit: 100, ...(pageParam ? { after: pageParam } : {}) } },
          signal,
        }),
      ),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    placeholderData: (before) => before,
  });
}

/** The runs a line of history stands for, itself left out. */
export async function under(view: ViewParams, filter: HistoryFilter, run: string): Promise<Line[]> {
  const page = await answer(
    client.GET("/api/history", { params: { query: { ...view, ...filter, under: run } } }),
  );
  return page.lines;
}

/** What one may choose history by, and how many lines that leaves. */
export function useFacets(view: ViewParams, filter: HistoryFilter) {
  return useQuery({
    queryKey: ["facets", view, filter],
    queryFn: ({ signal }) =>
      answer(client.GET("/api/history/facets", { params: { query: { ...view, ...filter } }, signal })),
    placeholderData: (before) => before,
  });
}

/** Runs and backups whose ids begin so, a few. */
export function useIds(beginning: string, when: boolean) {
  return useQuery({
    queryKey: ["ids", beginning],
    queryFn: ({ signal }) =>
      answer(client.GET("/api/history/ids", { params: { query: { beginning } }, signal })),
    placeholderData: (before) => before,
    enabled: when,
  });
}

/** One run or backup in detail. */
export function useLine(id: string, view: ViewParams) {
  return useQuery({
    queryKey: ["line", id, view],
    queryFn: () => answer(client.GET("/api/history/lines/{id}", { params: { path: { id }, query: view } })),
  });
}
