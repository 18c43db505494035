import { useEffect, useMemo, useState } from "react";
import type { HazardNow } from "../api/types";
import { useSources } from "../api/sources";
import { useView } from "./view";

const TICK_MS = 15_000;

/**
 * The moment the page stands at by the server's clock, in milliseconds; it moves on by itself. Null where the page stands still: at a
 * moment that was chosen, or at the newest fact where no program ever reported.
 */
export function useStanding(): number | null {
  const view = useView();
  const { data, dataUpdatedAt } = useSources();
  const [at, tick] = useState(0);
  useEffect(() => {
    const timer = window.setInterval(() => tick(Date.now()), TICK_MS);
    return () => window.clearInterval(timer);
  }, []);
  if (view.asOf !== null || !data || !(data.reporting || view.now)) return null;
  return Date.parse(data.now) + Math.max(0, at - dataUpdatedAt);
}

/** Since when nobody has told of a database, by its id: of those on a host whose runner is silent. */
export function useSilent(): Map<string, string> {
  const { data } = useSources();
  return useMemo(
    () => new Map((data?.silent ?? []).flatMap((s) => s.databases.map((id) => [id, s.since]))),
    [data?.silent],
  );
}

/** How old a recovery point is where the page stands: as it was told, and as much older as time has passed since. */
export function grown(hazard: HazardNow, at: string, standing: number | null): number {
  if (!hazard.grows || standing === null) return hazard.ageSeconds;
  return hazard.ageSeconds + Math.max(0, (standing - Date.parse(at)) / 1000);
}
