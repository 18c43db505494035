import { asError } from "../api/client";
import { useState } from "react";
import { useMatch } from "react-router";
import type { Step } from "../api/types";
import { stepFrom } from "./api";
import { kindName } from "../ribbon/kinds";
import { useView } from "./view";

const WHAT: Record<string, string> = {
  began: "began",
  ended: "ended",
  failed: "failed",
  landed: "landed in",
  went: "was deleted from",
  "found-spoiled": "was found spoiled in",
};

/** What happened, in words. */
export function stepText({ name, what, of, store }: Step): string {
  if (!of || !what) return `something of ${name ?? "the fleet"} began or ended`;
  const [kind = "", ...id] = of.split(" ");
  return `${name}: ${kindName(kind)} ${id.join(" ")} ${WHAT[what] ?? what}${store ? ` ${store}` : ""}`;
}

/** Steps from event to event: of the database whose page is open, else of the fleet. */
export function useStep(asOf: string | null) {
  const view = useView();
  const database = useMatch("/databases/:id")?.params.id ?? null;
  const [last, setLast] = useState<Step | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const step = (to: "next" | "previous") => {
    if (asOf === null) return;
    stepFrom({ asOf, to, ...(database ? { database } : {}) }).then(
      (found) => {
        setLast(found);
        setTrouble(
          found.at === null && to === "previous" ? "Nothing is known to have happened before." : null,
        );
        if (found.at) view.setAsOf(found.at);
        else if (to === "next") view.setAsOf(null);
      },
      (problem: unknown) => setTrouble(asError(problem).message),
    );
  };
  return {
    step,
    whose: database ?? "the fleet",
    text: trouble ?? (last?.at && last.at === view.asOf ? stepText(last) : null),
  };
}
