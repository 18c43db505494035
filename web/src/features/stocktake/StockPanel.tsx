import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState, type RefObject } from "react";
import { Link } from "react-router";
import { useMay } from "../../api/session";
import { handIn, takeStock, useStocktakes, type StoreRow } from "../stores/api";
import { count, longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import type { Schemas } from "../../api/types";

export const FINDS: [what: string, one: string, many: string][] = [
  ["missing", "missing", "missing"],
  ["mismatch", "mismatch", "mismatches"],
  ["lock", "not locked as believed", "not locked as believed"],
  ["claimed", "path claimed twice", "paths claimed twice"],
  ["stray", "stray", "strays"],
];

/** The newest stocktake of a store in a few lines, and taking stock again. */
export function StockPanel({ store }: { store: StoreRow }) {
  const may = useMay("operator");
  const queries = useQueryClient();
  const { data: takes } = useStocktakes(store.id);
  const { run, problem, pending } = useCommand(["stock"], ["stores"]);
  const [part, setPart] = useState<File | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const newest = takes?.[0];
  const waiting = newest?.state === "asked";
  const state = newest?.state;
  useEffect(() => {
    if (state !== undefined && state !== "asked") void queries.invalidateQueries({ queryKey: ["stores"] });
  }, [state, newest?.id, queries]);
  const then = (act: () => Promise<unknown>) => void run(act, () => setPart(null));
  const list = (listing: File, whole: boolean) => {
    setPart(whole ? null : listing);
    then(() => handIn(store.id, listing, whole));
  };
  const stock = store.stock;
  return (
    <section
      aria-label={`Stocktake of ${store.name}`}
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="stock"
    >
      <h2 className="text-section">
        Stocktake of {store.name}
        {stock?.take.taken && `, ${longMoment(stock.take.taken, viewerZone)}`}
      </h2>
      {!stock && !waiting && (
        <p className="mt-1 text-muted">Nobody has compared what lies here with the catalog yet.</p>
      )}
      {stock && <NewestStocktake stock={stock} />}
      {waiting && (
        <p className="mt-1 text-ochre-text">
          Waiting for the agent to {newest.sums ? "read" : "list"} what lies here…
        </p>
      )}
      {problem && <ProblemNote error={problem} />}
      <StockActions
        stock={stock}
        may={may}
        waiting={waiting}
        pending={pending}
        store={store}
        then={then}
        file={file}
        part={part}
        problem={problem}
        list={list}
      />
      {!store.agent && (
        <p className="mt-2 text-note text-muted">
          No agent of this store has asked for work lately. A listing is a table with the columns path, size,
          time, checksum, lock and lockedUntil.
        </p>
      )}
    </section>
  );
}

function NewestStocktake(props: { stock: Schemas["StockTally"] }) {
  const { stock } = props;
  return (
    <>
      <p className="mt-1">{count(stock.take.agreed)} copies agree</p>
      {FINDS.filter(([what]) => (stock.open[what] ?? 0) > 0).map(([what, one, many]) => {
        const n = stock.open[what] ?? 0;
        const bad = what === "missing" || what === "mismatch";
        return (
          <p key={what}>
            <b className={bad ? "text-coral-text" : "text-ochre-text"}>
              {count(n)} {n === 1 ? one : many}
            </b>
          </p>
        );
      })}
      {stock.take.unplaced > 0 && (
        <p className="text-note text-muted">
          Of {count(stock.take.unplaced)} copies nobody said where they lie; they were not compared.
        </p>
      )}
    </>
  );
}

function StockActions(props: {
  stock: Schemas["StockTally"] | null;
  may: boolean;
  waiting: boolean;
  pending: boolean;
  store: Schemas["StoreRow"];
  then: (act: () => Promise<unknown>) => undefined;
  file: RefObject<HTMLInputElement | null>;
  part: File | null;
  problem: Error | null;
  list: (listing: File, whole: boolean) => void;
}) {
  const { stock, may, waiting, pending, store, then, file, part, problem, list } = props;
  const [sums, setSums] = useState(false);
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3">
      {stock && (
        <Link className="ink-button" to={`/stores/stocktakes/${stock.take.id}`}>
          Look through
        </Link>
      )}
      {may && (
        <button
          className="outline-button"
          disabled={waiting || !store.agent}
          onClick={() => then(() => takeStock(store.id, sums))}
        >
          Take stock now
        </button>
      )}
      {may && (
        <label className="flex items-center gap-1 text-small">
          <input
            type="checkbox"
            checked={sums}
            disabled={waiting || !store.agent}
            onChange={(e) => setSums(e.target.checked)}
          />
          Read every file
        </label>
      )}
      {may && (
        <button className="text-button" disabled={pending} onClick={() => file.current?.click()}>
          Hand in a listing…
        </button>
      )}
      {part && problem && (
        <button className="text-button" onClick={() => list(part, true)}>
          It is complete: take it
        </button>
      )}
      <input
        ref={file}
        type="file"
        accept=".csv,.ndjson"
        className="hidden"
        disabled={pending}
        aria-label="Listing"
        onChange={(e) => {
          const listing = e.target.files?.[0];
          if (listing) list(listing, false);
          e.target.value = "";
        }}
      />
    </div>
  );
}
