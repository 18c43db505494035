import { createContext, useContext } from "react";
import type { Subject } from "./api";

/** Asks why, from anywhere on the page. */
export const WhyContext = createContext<(subject: Subject, zone: string) => void>(() => {});

export const useAskWhy = () => useContext(WhyContext);

/** Marks an element so that `w` on it, or on anything in it, asks why. */
export function whyOf(subject: Subject, zone: string): { "data-why": string } {
  return { "data-why": JSON.stringify({ subject, zone }) };
}
