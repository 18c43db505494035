import { useMemo } from "react";
import { useSearchParams } from "react-router";

type Asking = {
  /** Asks for something; what is as it would be anyway is left out of the address. */
  ask: (name: string, value: string, otherwise?: string) => void;
  /** Asks for none of these any more. */
  forget: (names: readonly string[]) => void;
};

/** What the address asks for, and ways to ask for something else. Changes in one go are one: a second would undo the first. */
export function useAsked(): [URLSearchParams, Asking] {
  const [params, setParams] = useSearchParams();
  const asking = useMemo(() => {
    const change = (how: (next: URLSearchParams) => void) =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          how(next);
          return next;
        },
        { replace: true },
      );
    return {
      ask: (name: string, value: string, otherwise = "") =>
        change((next) => (value === otherwise ? next.delete(name) : next.set(name, value))),
      forget: (names: readonly string[]) => change((next) => names.forEach((n) => next.delete(n))),
    };
  }, [setParams]);
  return [params, asking];
}
