import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { type ViewParams, isChosen } from "./client";
import { coverRows } from "./cover";
import type { Cover, Row } from "./types";

/** What follows from facts, and is asked for again when some have come in. */
const FOLLOWS = [
  "watch",
  "cover",
  "strip",
  "database",
  "backups",
  "sources",
  "history",
  "facets",
  "line",
  "gaps",
];
/** Of a fleet larger than this its order and the strip are not asked for again for a few rows, and Watch not for facts alone. */
const LARGE = 150;
const SPARED_OF_LARGE = ["watch", "cover", "strip"];
const ALL_BUT_WATCH = FOLLOWS.filter((key) => key !== "watch");
/** Who has scrolled further than this many pages is not sent back through all of them. */
const FEW_PAGES = 3;
/** Somebody is there. */
const SIGNS = ["pointermove", "keydown", "wheel", "scroll", "touchstart"] as const;
/**
 * Listening begins with the first sign of somebody, or else after so long, so that a page that is only printed or drawn once
 * comes to rest; what came in before anybody listened is asked for then.
 */
const SETTLED_MS = 7_000;
/**
 * Between two rounds of asking the page is left alone for so long, and longer where a round takes long: what lands all the time
 * keeps the server busy for each page a tenth of it at most.
 */
const REST_MS = 1_000;
const REST_ROUNDS = 9;

/** Whether a large fleet is on screen. */
const isLarge = (queries: QueryClient) =>
  ["cover", "watch"].some((key) =>
    queries
      .getQueriesData<{ databases?: number }>({ queryKey: [key], type: "active" })
      .some(([, data]) => (data?.databases ?? 0) > LARGE),
  );

/** Puts the rows of a few databases into the fleet that is on screen, unless a moment was chosen for that. */
async function redraw(queries: QueryClient, databases: string[]) {
  const shown = queries.getQueryCache().findAll({ queryKey: ["cover"], type: "active" });
  for (const { queryKey } of shown) {
    const view = queryKey[1] as ViewParams;
    if (isChosen(view.asOf)) continue;
    const fresh = new Map((await coverRows(databases, view)).map((r) => [r.id, r]));
    queries.setQueryData<Cover>(
      queryKey,
      (cover) => cover && { ...cover, rows: cover.rows.map((r) => fresh.get(r.id) ?? r) },
    );
    queries.setQueriesData<Row[]>({ queryKey: ["ribbons", view] }, (rows) =>
      rows?.map((r) => fresh.get(r.id) ?? r),
    );
  }
}

/** What a message says has changed, and of which databases, none where it may be of all; null where nothing has. */
export function told(message: string): { what: "facts" | "found"; databases: string[] } | null {
  const what = (["facts", "found"] as const).find((word) => message.startsWith(word));
  if (!what) return null;
  return { what, databases: JSON.parse(message.slice(what.length) || "[]") as string[] };
}

/** Asks again for what is on screen as soon as the server says that facts have come in. */
export function usePush() {
  const queries = useQueryClient();
  useEffect(() => {
    if (typeof EventSource === "undefined") return;
    let timer = 0;
    let asking = false;
    /** What the next round spares; null where none is wanted. */
    let next: readonly string[] | null = null;
    let events: EventSource | null = null;
    const rested = () => {
      asking = false;
      const spared = next;
      next = null;
      if (spared) ask(spared);
    };
    const ask = (sparing: readonly string[] = []) => {
      if (asking) {
        next = next ? next.filter((key) => sparing.includes(key)) : sparing;
        return;
      }
      asking = true;
      const began = performance.now();
      const all = FOLLOWS.filter((key) => !sparing.includes(key)).map((key) =>
        queries.invalidateQueries({
          queryKey: [key],
          predicate: ({ state }) =>
            ((state.data as { pages?: unknown[] } | undefined)?.pages?.length ?? 0) <= FEW_PAGES,
        }),
      );
      void Promise.allSettled(all).then(() => {
        const rest = Math.max(REST_MS, REST_ROUNDS * (performance.now() - began));
        timer = window.setTimeout(rested, rest);
      });
    };
    const hear = (e: MessageEvent<string>) => {
      const news = told(e.data);
      if (news === null) return;
      if (news.what === "found") ask(ALL_BUT_WATCH);
      // The few rows come at once; everything else that follows from them, in its own time.
      else if (news.databases.length > 0)
        void redraw(queries, news.databases).then(
          () => ask(isLarge(queries) ? SPARED_OF_LARGE : []),
          () => ask(),
        );
      else ask();
    };
    const listen = () => {
      if (events) return;
      events = new EventSource("/api/changes");
      let lost = false;
      events.onopen = () => lost && ask();
      events.onerror = () => (lost = true);
      events.onmessage = hear;
    };
    SIGNS.forEach((sign) => window.addEventListener(sign, listen, { once: true, passive: true }));
    const settled = window.setTimeout(() => {
      listen();
      ask();
    }, SETTLED_MS);
    return () => {
      SIGNS.forEach((sign) => window.removeEventListener(sign, listen));
      window.clearTimeout(settled);
      window.clearTimeout(timer);
      events?.close();
    };
  }, [queries]);
}
