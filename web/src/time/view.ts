import { useMemo } from "react";
import { useSearchParams } from "react-router";
import { NOW, type ViewParams } from "../api/client";

export const DEFAULT_DAYS = 30;

/** The moment and period the whole application looks at, kept in the address so that a link shows the same. */
export type View = {
  params: ViewParams;
  /** The moment chosen, or null where the page stands by itself. */
  asOf: string | null;
  /** Whether it was asked to stand at the clock though no program ever reported. */
  now: boolean;
  days: number;
  setAsOf: (moment: string | null) => void;
  setNow: (now: boolean) => void;
  setDays: (days: number) => void;
  /** What to append to a link so that it keeps the view. */
  search: string;
};

/** Days of a period such as P30D; the default where there is none or it is something else. */
export function daysOf(period: string | null): number {
  const found = /^P(\d{1,4})D$/.exec(period ?? "");
  return found ? Math.max(1, Number(found[1])) : DEFAULT_DAYS;
}

export function useView(): View {
  const [params, setParams] = useSearchParams();
  const asked = params.get("asOf");
  const period = params.get("period");
  return useMemo(() => {
    const change = (name: string, value: string | null) =>
      setParams((before) => {
        const next = new URLSearchParams(before);
        if (value === null) next.delete(name);
        else next.set(name, value);
        return next;
      });
    const now = asked === NOW;
    const kept = new URLSearchParams();
    if (asked) kept.set("asOf", asked);
    if (period) kept.set("period", period);
    const search = kept.toString();
    return {
      params: { ...(asked ? { asOf: asked } : {}), ...(period ? { period } : {}) },
      asOf: now ? null : asked,
      now,
      days: daysOf(period),
      setAsOf: (moment) => change("asOf", moment),
      setNow: (on) => change("asOf", on ? NOW : null),
      setDays: (days) => change("period", days === DEFAULT_DAYS ? null : `P${days}D`),
      search: search ? `?${search}` : "",
    };
  }, [asked, period, setParams]);
}

/** An instant to the second, as the address and the server write it. */
/** This moment, by the clock of the browser. */
export const nowSecond = () => isoSecond(Date.now());

export function isoSecond(ms: number): string {
  return new Date(Math.floor(ms / 1000) * 1000).toISOString().replace(".000Z", "Z");
}

/** A path, which may ask for something itself, with the view that is looked from. */
export const along = (path: string, search: string): string =>
  path.includes("?") ? path + search.replace("?", "&") : path + search;
