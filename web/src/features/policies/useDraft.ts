import { asError } from "../../api/client";
import { useRef, useState } from "react";
import type { WrittenDocument } from "../../api/types";
import { dropDraft, keepDraft } from "./api";

/** Keeps a draft while it is written: the newest words are kept after those before them, and none are lost under way. */
export function useDraft(policy: string) {
  const [problem, setProblem] = useState<Error | null>(null);
  const before = useRef<Promise<void>>(Promise.resolve());
  const newest = useRef(0);
  const keep = (document: WrittenDocument | null) => {
    const mine = ++newest.current;
    before.current = before.current
      .then(() =>
        mine < newest.current ? undefined : document ? keepDraft(policy, document) : dropDraft(policy),
      )
      .then(
        () => setProblem(null),
        (e: unknown) => setProblem(asError(e)),
      );
  };
  return { keep, problem };
}
