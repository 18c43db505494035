import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { useState } from "react";

/** So many rows of a long list are asked for at once. */
export const BLOCK = 50;

type Asked<A> = {
  key: readonly unknown[];
  /** @param from how many rows come before those wanted */
  ask: (from: number) => Promise<A>;
  /** Milliseconds after which it is asked again; absent: not until something comes in. */
  again?: number;
};

const block = <A>({ key, ask, again }: Asked<A>, b: number) => ({
  queryKey: [...key, b],
  queryFn: () => ask(b * BLOCK),
  ...(again === undefined ? {} : { refetchInterval: again }),
});

/** A long list with its first rows. */
export function useFirst<A>(asked: Asked<A>) {
  return useQuery({ ...block(asked, 0), placeholderData: keepPreviousData });
}

/** The rows of a long list that are in sight, by their place in it; those that are still asked for are absent. */
export function useRest<A extends { rows: unknown[] }>(asked: Asked<A>, first: A, inSight: number[]) {
  const blocks = [...new Set(inSight.map((i) => Math.floor(i / BLOCK)))].filter((b) => b > 0);
  const rest = useQueries({
    queries: blocks.map((b) => block(asked, b)),
    combine: (found) => new Map(found.map((f, i) => [blocks[i], f.data?.rows] as const)),
  });
  return (i: number): A["rows"][number] | undefined =>
    (i < BLOCK ? first.rows : rest.get(Math.floor(i / BLOCK)))?.[i % BLOCK];
}

/** The rows of a long list from its beginning, more of them whenever that is asked for. */
export function useMore<A extends { rows: unknown[] }>(asked: Asked<A>, first: A, total: number) {
  const [wanted, setWanted] = useState(BLOCK);
  const many = Math.min(wanted, total);
  const at = useRest(
    asked,
    first,
    Array.from({ length: Math.ceil(many / BLOCK) }, (_, b) => b * BLOCK),
  );
  const rows = Array.from({ length: many }, (_, i) => at(i)).filter((r) => r !== undefined);
  return { rows, left: total - many, more: () => setWanted(wanted + BLOCK) };
}
