import { useEffect, useRef, useState } from "react";
import { isoSecond } from "../../time/view";
import { useCommand } from "../../ui/useCommand";
import { haveLooked } from "./api";

const KEY = "firth.looked";
/** Looks this close together are one. */
const ONE_LOOK_MS = 30 * 60_000;

type Looks = { last: string; before: string | null };

function read(): Looks | null {
  try {
    const known = JSON.parse(localStorage.getItem(KEY) ?? "null") as Partial<Looks> | null;
    return known && typeof known.last === "string"
      ? { last: known.last, before: known.before ?? null }
      : null;
  } catch {
    return null;
  }
}

/** When this person looked the time before; what is opened again and again within half an hour is one look. */
export function looks(known: Looks | null, now: number): Looks {
  if (!known) return { last: isoSecond(now), before: null };
  const apart = now - new Date(known.last).getTime();
  return apart < ONE_LOOK_MS
    ? { last: isoSecond(now), before: known.before }
    : { last: isoSecond(now), before: known.last };
}

/** Notes that somebody looks, and gives when they last did; nothing while one looks back. */
export function useLooked(asOf: string | null): string | null {
  const [before] = useState(() => {
    const next = looks(read(), Date.now());
    localStorage.setItem(KEY, JSON.stringify(next));
    return next.before;
  });
  return asOf ? null : before;
}

/** Tells the server once that what is wrong now has been seen; gives what went wrong with that. */
export function useHaveLooked(shown: boolean): Error | null {
  const { run, problem } = useCommand();
  const told = useRef(false);
  useEffect(() => {
    if (!shown || told.current) return;
    told.current = true;
    void run(haveLooked);
  });
  return problem;
}
