import { asError } from "../api/client";
import { useQueryClient, type QueryKey } from "@tanstack/react-query";
import { useRef, useState } from "react";

export type Command = {
  /**
   * Does it unless one is under way; tells whether it was done. What is to follow is told what came of it, and so is what puts it back,
   * where it can be put back.
   */
  run: <T>(
    act: () => Promise<T>,
    then?: (result: T) => unknown,
    back?: (result: T) => Promise<unknown>,
  ) => Promise<boolean>;
  /** Puts back what was done last; null where that cannot be, or was done already. */
  undo: (() => Promise<boolean>) | null;
  /** Whether one is under way, so that pressing again would do it twice. */
  pending: boolean;
  /** What went wrong the last time; null when it went well. */
  problem: Error | null;
};

/**
 * What a person changes from one place of a page: one at a time. Whatever became of it, what is read under the keys is read anew, for
 * a refusal may say that it has changed meanwhile; the empty key stands for everything.
 */
export function useCommand(...refetch: QueryKey[]): Command {
  const queries = useQueryClient();
  const [problem, setProblem] = useState<Error | null>(null);
  const [pending, setPending] = useState(false);
  const [back, setBack] = useState<(() => Promise<unknown>) | null>(null);
  const under = useRef(false);
  const run: Command["run"] = async (act, then, putBack) => {
    if (under.current) return false;
    under.current = true;
    setPending(true);
    try {
      const result = await act();
      setProblem(null);
      setBack(putBack ? () => () => putBack(result) : null);
      await then?.(result);
      return true;
    } catch (e) {
      setProblem(asError(e));
      return false;
    } finally {
      under.current = false;
      setPending(false);
      refetch.forEach((queryKey) => void queries.invalidateQueries({ queryKey }));
    }
  };
  return { run, pending, problem, undo: back && (() => run(back)) };
}
