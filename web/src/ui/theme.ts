import { useSyncExternalStore } from "react";

const KEY = "firth:theme";
const CHANGED = "firth:theme";

/** Colours for days, or for nights. */
export type Theme = "day" | "night";

/** What was chosen in this browser, or else what the system prefers. */
function theme(): Theme {
  const kept = localStorage.getItem(KEY);
  if (kept === "day" || kept === "night") return kept;
  // Not every browser of a test can be asked.
  const asks = "matchMedia" in window;
  return asks && window.matchMedia("(prefers-color-scheme: dark)").matches ? "night" : "day";
}

export function chooseTheme(chosen: Theme): void {
  localStorage.setItem(KEY, chosen);
  window.dispatchEvent(new Event(CHANGED));
}

function subscribe(changed: () => void): () => void {
  window.addEventListener(CHANGED, changed);
  return () => window.removeEventListener(CHANGED, changed);
}

export function useTheme(): Theme {
  return useSyncExternalStore(subscribe, theme);
}
