import { useRef } from "react";
import type { Outside } from "../api/types";
import { stepped } from "./events";
import type { View } from "./view";

/**
 * Steps from moment to moment at which the fleet changed. The moments come with the clock and move on with it, so whoever goes forward
 * again goes by those already seen.
 */
export function useTrail(view: View, asOf: string | null, outside: Outside[]) {
  const trail = useRef<{ at: string | null; seen: string[] }>({ at: null, seen: [] });
  return (by: 1 | -1) => {
    if (!asOf) return;
    const seen = trail.current.at === view.asOf ? trail.current.seen : [];
    const to = (by > 0 ? seen.at(-1) : undefined) ?? stepped(outside, asOf, by);
    const left = view.asOf && to !== view.asOf ? [...seen, view.asOf] : seen;
    trail.current = { at: to, seen: by > 0 ? seen.slice(0, -1) : left };
    view.setAsOf(to);
  };
}
