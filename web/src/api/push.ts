import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

/** What follows from facts, and is asked for again when some have come in. */
const FOLLOWS = ["watch", "cover", "database", "backups", "sources"];
const AT_MOST_EVERY_MS = 400;

/** Asks again for what is on screen as soon as the server says that facts have come in. */
export function usePush() {
  const queries = useQueryClient();
  useEffect(() => {
    if (typeof EventSource === "undefined") return;
    const events = new EventSource("/api/changes");
    let waiting = 0;
    events.onmessage = (e) => {
      if (e.data !== "facts" || waiting !== 0) return;
      waiting = window.setTimeout(() => {
        waiting = 0;
        FOLLOWS.forEach((key) => void queries.invalidateQueries({ queryKey: [key] }));
      }, AT_MOST_EVERY_MS);
    };
    return () => {
      window.clearTimeout(waiting);
      events.close();
    };
  }, [queries]);
}
