import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

/** What follows from facts, and is asked for again when some have come in. */
const FOLLOWS = ["watch", "cover", "database", "backups", "sources", "history", "facets", "line", "gaps"];
/** Who has scrolled further than this many pages is not sent back through all of them. */
const FEW_PAGES = 3;
/** Listening begins once the page has settled: what it asked for first is new enough until then. */
const SETTLED_MS = 7_000;
/** Between two rounds of asking the page is left alone for so long. */
const REST_MS = 1_000;

/** Asks again for what is on screen as soon as the server says that facts have come in. */
export function usePush() {
  const queries = useQueryClient();
  useEffect(() => {
    if (typeof EventSource === "undefined") return;
    let events: EventSource | null = null;
    let timer = 0;
    let asking = false;
    let more = false;
    const rested = () => {
      asking = false;
      if (more) ask();
    };
    const ask = () => {
      more = asking;
      if (asking) return;
      asking = true;
      const all = FOLLOWS.map((key) =>
        queries.invalidateQueries({
          queryKey: [key],
          predicate: ({ state }) =>
            ((state.data as { pages?: unknown[] } | undefined)?.pages?.length ?? 0) <= FEW_PAGES,
        }),
      );
      void Promise.allSettled(all).then(() => (timer = window.setTimeout(rested, REST_MS)));
    };
    timer = window.setTimeout(() => {
      events = new EventSource("/api/changes");
      events.onopen = ask;
      events.onmessage = (e) => e.data === "facts" && ask();
    }, SETTLED_MS);
    return () => {
      window.clearTimeout(timer);
      events?.close();
    };
  }, [queries]);
}
