import { useState } from "react";
import { useMatch } from "react-router";
import { stepFrom, type Step } from "../api/client";
import { useView } from "./view";

const WHAT: Record<string, string> = {
  began: "began",
  ended: "ended",
  failed: "failed",
  landed: "landed in",
  went: "was deleted from",
  "found-spoiled": "was found spoiled in",
};
const KINDS: Record<string, string> = { diff: "differential", incr: "incremental" };

/** What happened, in words. */
export function stepText({ name, what, of, store }: Step): string {
  if (!of || !what) return `something of ${name ?? "the fleet"} began or ended`;
  const [kind = "", ...id] = of.split(" ");
  return `${name}: ${KINDS[kind] ?? kind} ${id.join(" ")} ${WHAT[what] ?? what}${store ? ` ${store}` : ""}`;
}

/** Steps from event to event: of the database whose page is open, else of the fleet. */
export function useStep(asOf: string | null) {
  const view = useView();
  const database = useMatch("/databases/:id")?.params.id ?? null;
  const [last, setLast] = useState<Step | null>(null);
  const [end, setEnd] = useState(false);
  const step = (to: "next" | "previous") => {
    if (asOf === null) return;
    stepFrom({ asOf, to, ...(database ? { database } : {}) }).then(
      (found) => {
        setLast(found);
        setEnd(found.at === null && to === "previous");
        if (found.at) view.setAsOf(found.at);
        else if (to === "next") view.setAsOf(null);
      },
      () => setLast(null),
    );
  };
  return {
    step,
    whose: database ?? "the fleet",
    text: end
      ? "Nothing is known to have happened before."
      : last?.at && last.at === view.asOf
        ? stepText(last)
        : null,
  };
}
